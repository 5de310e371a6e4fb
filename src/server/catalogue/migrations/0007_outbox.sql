ALTER TABLE `run` ADD `controls` text;--> statement-breakpoint
ALTER TABLE `run` ADD `sent_at` integer;--> statement-breakpoint
ALTER TABLE `run` ADD `removed_at` integer;