CREATE TABLE `column_setting` (
	`table` text NOT NULL,
	`column` text NOT NULL,
	`unit` text,
	PRIMARY KEY(`table`, `column`)
);
--> statement-breakpoint
CREATE TABLE `lease` (
	`name` text PRIMARY KEY NOT NULL,
	`owner` text NOT NULL,
	`epoch` integer NOT NULL,
	`until` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `object` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`spec` text NOT NULL,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	`revision` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE `run` (
	`id` text PRIMARY KEY NOT NULL,
	`schedule` text NOT NULL,
	`due_at` integer NOT NULL,
	`started_at` integer NOT NULL,
	`finished_at` integer,
	`state` text NOT NULL,
	`late` integer NOT NULL,
	`manual` integer NOT NULL,
	`attempt` integer NOT NULL,
	`rows` integer,
	`pages` integer,
	`files` text,
	`error` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `run_once` ON `run` (`schedule`,`due_at`);--> statement-breakpoint
CREATE TABLE `setting` (
	`name` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
