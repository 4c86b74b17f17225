CREATE TABLE `customer_return` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`order_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`date` text NOT NULL,
	`reason` text NOT NULL,
	`state` text NOT NULL,
	`replacement_id` integer,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`order_id`) REFERENCES `customer_order`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`replacement_id`) REFERENCES `customer_order`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `customer_return_number_unique` ON `customer_return` (`number`);--> statement-breakpoint
CREATE INDEX `customer_return_order` ON `customer_return` (`order_id`);--> statement-breakpoint
CREATE INDEX `customer_return_state` ON `customer_return` (`state`);--> statement-breakpoint
CREATE TABLE `customer_return_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`return_id` integer NOT NULL,
	`shipment_line_id` integer NOT NULL,
	`order_line_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	`lot` text NOT NULL,
	`serial` text NOT NULL,
	`quantity` integer NOT NULL,
	`received` integer DEFAULT 0 NOT NULL,
	`decided` integer DEFAULT 0 NOT NULL,
	`credited` integer DEFAULT 0 NOT NULL,
	`value` integer DEFAULT 0 NOT NULL,
	`bin_id` integer DEFAULT 0 NOT NULL,
	FOREIGN KEY (`return_id`) REFERENCES `customer_return`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`shipment_line_id`) REFERENCES `shipment_line`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_line_id`) REFERENCES `customer_order_line`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `customer_return_line_return` ON `customer_return_line` (`return_id`);--> statement-breakpoint
CREATE INDEX `customer_return_line_shipped` ON `customer_return_line` (`shipment_line_id`);--> statement-breakpoint
CREATE TABLE `return_decision` (
	`id` integer PRIMARY KEY NOT NULL,
	`line_id` integer NOT NULL,
	`decision` text NOT NULL,
	`quantity` integer NOT NULL,
	`date` text NOT NULL,
	`why` text NOT NULL,
	`production_id` integer,
	`user_id` integer NOT NULL,
	FOREIGN KEY (`line_id`) REFERENCES `customer_return_line`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`production_id`) REFERENCES `production_order`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`user_id`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `return_decision_line` ON `return_decision` (`line_id`);