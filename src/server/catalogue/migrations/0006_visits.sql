CREATE TABLE `visit` (
	`person` text NOT NULL,
	`object` text NOT NULL,
	`at` integer NOT NULL,
	`pinned` integer DEFAULT false NOT NULL,
	PRIMARY KEY(`person`, `object`)
);
