ALTER TABLE `lists` DROP COLUMN `file_name`;--> statement-breakpoint
ALTER TABLE `lists` DROP COLUMN `text`;--> statement-breakpoint
ALTER TABLE `lists` DROP COLUMN `rate`;