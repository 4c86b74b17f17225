CREATE TABLE `settlement` (
	`id` integer PRIMARY KEY NOT NULL,
	`invoice_id` integer NOT NULL,
	`payment_id` integer,
	`credit_id` integer,
	`date` text NOT NULL,
	`amount` integer NOT NULL,
	`let_off` integer DEFAULT 0 NOT NULL,
	`entry_id` integer,
	`reversed` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`invoice_id`) REFERENCES `invoice`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payment`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`credit_id`) REFERENCES `invoice`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `settlement_invoice` ON `settlement` (`invoice_id`);--> statement-breakpoint
CREATE INDEX `settlement_payment` ON `settlement` (`payment_id`);--> statement-breakpoint
CREATE INDEX `settlement_credit` ON `settlement` (`credit_id`);--> statement-breakpoint
ALTER TABLE `invoice` ADD `kind` text DEFAULT 'invoice' NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice` ADD `credit_of` integer;--> statement-breakpoint
ALTER TABLE `invoice` ADD `reason` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice` ADD `reminded` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice` ADD `reminded_on` text;--> statement-breakpoint
CREATE INDEX `invoice_credit` ON `invoice` (`credit_of`);--> statement-breakpoint
ALTER TABLE `invoice_line` ADD `credit_of` integer;--> statement-breakpoint
CREATE INDEX `invoice_line_order_line` ON `invoice_line` (`order_line_id`);--> statement-breakpoint
CREATE INDEX `invoice_line_credit` ON `invoice_line` (`credit_of`);--> statement-breakpoint
ALTER TABLE `payment` ADD `customer_id` integer REFERENCES customer(id);--> statement-breakpoint
ALTER TABLE `payment` ADD `order_id` integer REFERENCES customer_order(id);--> statement-breakpoint
ALTER TABLE `payment` ADD `reference` text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX `payment_customer` ON `payment` (`customer_id`);--> statement-breakpoint
CREATE INDEX `payment_order` ON `payment` (`order_id`);--> statement-breakpoint
ALTER TABLE `customer` ADD `invoicing` text DEFAULT 'shipment' NOT NULL;--> statement-breakpoint
UPDATE `payment` SET `customer_id` = (SELECT `customer_id` FROM `invoice` WHERE `invoice`.`id` = `payment`.`invoice_id`);--> statement-breakpoint
INSERT OR IGNORE INTO `account` (`code`, `name`) SELECT `code`, `name` FROM (SELECT '1010' AS `code`, 'Cash in drawers' AS `name` UNION ALL SELECT '2200', 'Paid ahead by customers' UNION ALL SELECT '4040', 'Let off for early payment' UNION ALL SELECT '5420', 'Cash over and short') WHERE EXISTS (SELECT 1 FROM `account`);
