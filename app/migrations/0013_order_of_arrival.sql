ALTER TABLE `jobs` ADD `changed_at` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `jobs` ADD `list_title` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `found_by` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `sequence` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `jobs` SET
	`changed_at` = coalesce((SELECT `changed_at` FROM `job_summaries` WHERE `job_id` = `jobs`.`id`), `created_at`),
	`list_title` = (SELECT json_extract(`data`, '$.listTitle') FROM `job_summaries` WHERE `job_id` = `jobs`.`id`);--> statement-breakpoint
UPDATE `jobs` SET `sequence` = `placed`.`place`
	FROM (SELECT `id`, row_number() OVER (ORDER BY `changed_at`, `rowid`) AS `place` FROM `jobs`) AS `placed` WHERE `placed`.`id` = `jobs`.`id`;--> statement-breakpoint
CREATE INDEX `jobs_by_change` ON `jobs` (`sequence`);--> statement-breakpoint
ALTER TABLE `lists` ADD `sequence` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `lists` SET `sequence` = `placed`.`place`
	FROM (SELECT `id`, row_number() OVER (ORDER BY `created_at`, `rowid`) AS `place` FROM `lists`) AS `placed` WHERE `placed`.`id` = `lists`.`id`;--> statement-breakpoint
ALTER TABLE `job_summaries` DROP COLUMN `changed_at`;