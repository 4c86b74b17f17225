CREATE TABLE `customer_item` (
	`customer_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	`code` text NOT NULL,
	`description` text DEFAULT '' NOT NULL,
	PRIMARY KEY(`customer_id`, `item_id`),
	FOREIGN KEY (`customer_id`) REFERENCES `customer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `customer_item_code` ON `customer_item` (`customer_id`,`code`);--> statement-breakpoint
ALTER TABLE `invoice_line` ADD `free` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `shipment` ADD `ship_to` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `ship_to` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `payment_term` text REFERENCES payment_term(code);--> statement-breakpoint
ALTER TABLE `customer_order` ADD `payment_days` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `sales_person_id` integer REFERENCES user(id);--> statement-breakpoint
ALTER TABLE `customer_order` ADD `complete` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `family_id` integer;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `tax_correction` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX `customer_order_family` ON `customer_order` (`family_id`);--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `free` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `free_invoiced` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `note` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `ship_to` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `carrier` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `direct` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `correction` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `origin_id` integer;--> statement-breakpoint
UPDATE `customer_order` SET
	`payment_term` = (SELECT `payment_term` FROM `customer` WHERE `customer`.`id` = `customer_order`.`customer_id`),
	`payment_days` = (SELECT `payment_days` FROM `customer` WHERE `customer`.`id` = `customer_order`.`customer_id`);
