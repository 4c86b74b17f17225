ALTER TABLE `item` ADD `planning` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `item_group` ADD `planning` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `follows` text DEFAULT '[]' NOT NULL;