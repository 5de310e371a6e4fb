CREATE TABLE `filing` (
	`object` text PRIMARY KEY NOT NULL,
	`folder` text DEFAULT '' NOT NULL,
	`note` text DEFAULT '' NOT NULL
);
