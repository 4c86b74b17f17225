CREATE TABLE `incoming_order` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`at` text NOT NULL,
	`date` text NOT NULL,
	`file_name` text NOT NULL,
	`checksum` text NOT NULL,
	`source` text NOT NULL,
	`reference` text NOT NULL,
	`buyer` text NOT NULL,
	`said` text NOT NULL,
	`mended` text NOT NULL,
	`state` text NOT NULL,
	`customer_id` integer,
	`order_id` integer,
	`why` text DEFAULT '' NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`customer_id`) REFERENCES `customer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_id`) REFERENCES `customer_order`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `incoming_order_number_unique` ON `incoming_order` (`number`);--> statement-breakpoint
CREATE INDEX `incoming_order_state` ON `incoming_order` (`state`);--> statement-breakpoint
CREATE INDEX `incoming_order_checksum` ON `incoming_order` (`checksum`);--> statement-breakpoint
CREATE INDEX `incoming_order_reference` ON `incoming_order` (`reference`);