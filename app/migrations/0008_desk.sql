CREATE TABLE `job_summaries` (
	`job_id` text PRIMARY KEY NOT NULL,
	`data` text NOT NULL,
	`stale` integer NOT NULL,
	`changed_at` integer NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
ALTER TABLE `jobs` ADD `deleted_at` integer;