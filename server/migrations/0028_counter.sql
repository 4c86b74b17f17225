CREATE TABLE `counter_sale` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`at` text NOT NULL,
	`date` text NOT NULL,
	`user_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`drawer_id` integer,
	`order_id` integer NOT NULL,
	`invoice_id` integer NOT NULL,
	`return_of` integer,
	`total` integer NOT NULL,
	`given` integer NOT NULL,
	`change` integer NOT NULL,
	FOREIGN KEY (`user_id`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`drawer_id`) REFERENCES `drawer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_id`) REFERENCES `customer_order`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`invoice_id`) REFERENCES `invoice`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`return_of`) REFERENCES `counter_sale`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `counter_sale_number_unique` ON `counter_sale` (`number`);--> statement-breakpoint
CREATE INDEX `counter_sale_drawer` ON `counter_sale` (`drawer_id`);--> statement-breakpoint
CREATE INDEX `counter_sale_order` ON `counter_sale` (`order_id`);--> statement-breakpoint
CREATE TABLE `drawer` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`warehouse_id` integer NOT NULL,
	`opened_at` text NOT NULL,
	`opened_by` integer NOT NULL,
	`float` integer NOT NULL,
	`closed_at` text,
	`closed_by` integer,
	`expected` integer,
	`counted` integer,
	`left` integer,
	`note` text DEFAULT '' NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`opened_by`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`closed_by`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `drawer_number_unique` ON `drawer` (`number`);--> statement-breakpoint
CREATE UNIQUE INDEX `drawer_open` ON `drawer` (`warehouse_id`) WHERE "drawer"."closed_at" is null;--> statement-breakpoint
CREATE TABLE `parked_sale` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`user_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`words` text NOT NULL,
	`basket` text NOT NULL,
	FOREIGN KEY (`user_id`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
UPDATE `role` SET `rights` = json_insert(`rights`, '$[#]', 'selling.counter') WHERE `rights` LIKE '%"selling.confirm"%' AND `rights` LIKE '%"accounts.invoice"%' AND `rights` NOT LIKE '%"selling.counter"%';
