CREATE TABLE `event_proofs` (
	`job_id` text NOT NULL,
	`event` text NOT NULL,
	`made_from` text NOT NULL,
	`data` text NOT NULL,
	PRIMARY KEY(`job_id`, `event`),
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `readings` (
	`id` text NOT NULL,
	`job_id` text NOT NULL,
	`events` blob NOT NULL,
	`created_at` integer NOT NULL,
	PRIMARY KEY(`job_id`, `id`),
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
ALTER TABLE `decisions` ADD `reading` text;--> statement-breakpoint
ALTER TABLE `decisions` ADD `why` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `decisions` ADD `replaced` text;--> statement-breakpoint
CREATE INDEX `decisions_job` ON `decisions` (`job_id`);