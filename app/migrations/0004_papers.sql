CREATE TABLE `measurements` (
	`job_id` text NOT NULL,
	`path` text NOT NULL,
	`stamp` text NOT NULL,
	`sums` text NOT NULL,
	PRIMARY KEY(`job_id`, `path`),
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
ALTER TABLE `volumes` ADD `papers` text;