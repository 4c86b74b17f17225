ALTER TABLE `customer_order` ADD `kind` text DEFAULT 'order' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `valid_until` text;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `probability` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `lost_reason` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `ordered` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `free_ordered` integer DEFAULT 0 NOT NULL;