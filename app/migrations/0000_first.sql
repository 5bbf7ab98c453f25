CREATE TABLE `decisions` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`job_id` text NOT NULL,
	`list_id` text NOT NULL,
	`batch` text NOT NULL,
	`made_at` integer NOT NULL,
	`who` text NOT NULL,
	`decision` text NOT NULL,
	`withdrawn_at` integer,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`list_id`) REFERENCES `lists`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `decisions_list` ON `decisions` (`list_id`);--> statement-breakpoint
CREATE TABLE `jobs` (
	`id` text PRIMARY KEY NOT NULL,
	`title` text NOT NULL,
	`rules` text,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `lists` (
	`id` text PRIMARY KEY NOT NULL,
	`job_id` text NOT NULL,
	`file_name` text NOT NULL,
	`text` text NOT NULL,
	`rate` text,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `originals` (
	`path` text NOT NULL,
	`job_id` text NOT NULL,
	`volume_id` text NOT NULL,
	`data` text NOT NULL,
	`here` integer NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`volume_id`) REFERENCES `volumes`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `originals_job` ON `originals` (`job_id`,`volume_id`);--> statement-breakpoint
CREATE TABLE `proofs` (
	`list_id` text NOT NULL,
	`event` text NOT NULL,
	`made_from` text NOT NULL,
	`data` text NOT NULL,
	FOREIGN KEY (`list_id`) REFERENCES `lists`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `proofs_list` ON `proofs` (`list_id`);--> statement-breakpoint
CREATE TABLE `reference_movies` (
	`id` text PRIMARY KEY NOT NULL,
	`job_id` text NOT NULL,
	`data` text NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `tasks` (
	`id` text PRIMARY KEY NOT NULL,
	`job_id` text NOT NULL,
	`kind` text NOT NULL,
	`options` text NOT NULL,
	`state` text NOT NULL,
	`done` integer DEFAULT 0 NOT NULL,
	`total` integer DEFAULT 0 NOT NULL,
	`what` text DEFAULT '' NOT NULL,
	`message` text DEFAULT '' NOT NULL,
	`result` text,
	`created_at` integer NOT NULL,
	`ended_at` integer,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `volumes` (
	`id` text PRIMARY KEY NOT NULL,
	`job_id` text NOT NULL,
	`path` text NOT NULL,
	`name` text NOT NULL,
	`scanned_at` integer,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
