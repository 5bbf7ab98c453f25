ALTER TABLE `event_proofs` DROP COLUMN `proved_at`;--> statement-breakpoint
ALTER TABLE `event_proofs` ADD `proved_by` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `picture_looks` DROP COLUMN `seen_at`;--> statement-breakpoint
ALTER TABLE `picture_looks` ADD `seen_by` text DEFAULT '' NOT NULL;