CREATE TABLE `published` (
	`object` text PRIMARY KEY NOT NULL,
	`address` text NOT NULL,
	`passcode` text,
	`views` integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `published_address_unique` ON `published` (`address`);