CREATE TABLE `list_files` (
	`list_id` text NOT NULL,
	`place` integer NOT NULL,
	`file_name` text NOT NULL,
	`bytes` blob NOT NULL,
	FOREIGN KEY (`list_id`) REFERENCES `lists`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `list_files_list` ON `list_files` (`list_id`);--> statement-breakpoint
ALTER TABLE `lists` ADD `state` text DEFAULT 'cut' NOT NULL;--> statement-breakpoint
ALTER TABLE `lists` ADD `options` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
INSERT INTO `list_files` SELECT `id`, 0, `file_name`, CAST(`text` AS BLOB) FROM `lists`;--> statement-breakpoint
UPDATE `lists` SET `options` = json_object('rate', json(`rate`)) WHERE `rate` IS NOT NULL AND `rate` <> 'null';
