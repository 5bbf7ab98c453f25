CREATE TABLE `guide_sounds` (
	`job_id` text PRIMARY KEY NOT NULL,
	`data` text NOT NULL,
	`begins_at` real,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
