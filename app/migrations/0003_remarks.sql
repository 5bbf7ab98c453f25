CREATE TABLE `filters` (
	`job_id` text NOT NULL,
	`name` text NOT NULL,
	`data` text NOT NULL,
	PRIMARY KEY(`job_id`, `name`),
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `remarks` (
	`job_id` text NOT NULL,
	`path` text NOT NULL,
	`tags` text NOT NULL,
	`note` text NOT NULL,
	PRIMARY KEY(`job_id`, `path`),
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_decisions` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`job_id` text NOT NULL,
	`list_id` text,
	`batch` text NOT NULL,
	`made_at` integer NOT NULL,
	`who` text NOT NULL,
	`decision` text NOT NULL,
	`withdrawn_at` integer,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`list_id`) REFERENCES `lists`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
INSERT INTO `__new_decisions`("id", "job_id", "list_id", "batch", "made_at", "who", "decision", "withdrawn_at") SELECT "id", "job_id", "list_id", "batch", "made_at", "who", "decision", "withdrawn_at" FROM `decisions`;--> statement-breakpoint
DROP TABLE `decisions`;--> statement-breakpoint
ALTER TABLE `__new_decisions` RENAME TO `decisions`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE INDEX `decisions_list` ON `decisions` (`list_id`);--> statement-breakpoint
ALTER TABLE `volumes` ADD `former_paths` text DEFAULT '[]' NOT NULL;