CREATE TABLE `picture_looks` (
	`job_id` text NOT NULL,
	`event` text NOT NULL,
	`made_from` text NOT NULL,
	`seen_at` integer NOT NULL,
	`data` text NOT NULL,
	PRIMARY KEY(`job_id`, `event`),
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
