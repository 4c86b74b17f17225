ALTER TABLE `bin` ADD `walk` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `bin` ADD `size` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `bin` ADD `blocked` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `bin` ADD `active` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `warehouse` ADD `address` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `warehouse` ADD `active` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `warehouse` ADD `version` integer DEFAULT 1 NOT NULL;