CREATE TABLE `charge_rule` (
	`id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`by` text NOT NULL,
	`carrier` text NOT NULL,
	`steps` text NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
ALTER TABLE `customer_order` ADD `charges` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `by_rule` integer DEFAULT false NOT NULL;