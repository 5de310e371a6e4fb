ALTER TABLE `column_setting` ADD `label` text;--> statement-breakpoint
ALTER TABLE `column_setting` ADD `note` text;--> statement-breakpoint
ALTER TABLE `column_setting` ADD `type` text;--> statement-breakpoint
ALTER TABLE `column_setting` ADD `format` text;