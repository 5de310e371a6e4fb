CREATE TABLE `bin` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`spec` text NOT NULL,
	`owner` text,
	`deleted_by` text,
	`deleted_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `draft` (
	`person` text NOT NULL,
	`place` text NOT NULL,
	`spec` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`person`, `place`)
);
--> statement-breakpoint
CREATE TABLE `version` (
	`object` text NOT NULL,
	`revision` integer NOT NULL,
	`name` text NOT NULL,
	`spec` text NOT NULL,
	`person` text,
	`at` integer NOT NULL,
	PRIMARY KEY(`object`, `revision`)
);
