CREATE TABLE `kept_returns` (
	`name` text PRIMARY KEY NOT NULL,
	`asked` text NOT NULL
);
