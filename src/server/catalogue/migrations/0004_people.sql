CREATE TABLE `failure` (
	`key` text PRIMARY KEY NOT NULL,
	`count` integer NOT NULL,
	`at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `log` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` integer NOT NULL,
	`person` text NOT NULL,
	`action` text NOT NULL,
	`about` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `person` (
	`id` text PRIMARY KEY NOT NULL,
	`login` text NOT NULL,
	`name` text NOT NULL,
	`role` text NOT NULL,
	`known_as` text DEFAULT '' NOT NULL,
	`password` text,
	`barred` integer DEFAULT false NOT NULL,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `person_login_unique` ON `person` (`login`);--> statement-breakpoint
CREATE TABLE `session` (
	`token` text PRIMARY KEY NOT NULL,
	`person` text NOT NULL,
	`created_at` integer NOT NULL,
	`seen_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `share` (
	`object` text NOT NULL,
	`person` text NOT NULL,
	`level` text NOT NULL,
	PRIMARY KEY(`object`, `person`)
);
--> statement-breakpoint
ALTER TABLE `object` ADD `owner` text;