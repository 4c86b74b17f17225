PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_payment` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`customer_id` integer NOT NULL,
	`order_id` integer,
	`date` text NOT NULL,
	`amount` integer NOT NULL,
	`method` text NOT NULL,
	`reference` text DEFAULT '' NOT NULL,
	`entry_id` integer NOT NULL,
	`reversed` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`customer_id`) REFERENCES `customer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_id`) REFERENCES `customer_order`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
INSERT INTO `__new_payment`("id", "number", "customer_id", "order_id", "date", "amount", "method", "reference", "entry_id", "reversed") SELECT "id", "number", "customer_id", "order_id", "date", "amount", "method", "reference", "entry_id", "reversed" FROM `payment`;--> statement-breakpoint
CREATE TABLE `__closed_by` AS SELECT `invoice_id`, `id`, `date`, `amount`, `reversed` FROM `payment`;--> statement-breakpoint
DROP TABLE `payment`;--> statement-breakpoint
ALTER TABLE `__new_payment` RENAME TO `payment`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `payment_number_unique` ON `payment` (`number`);--> statement-breakpoint
CREATE INDEX `payment_customer` ON `payment` (`customer_id`);--> statement-breakpoint
CREATE INDEX `payment_order` ON `payment` (`order_id`);--> statement-breakpoint
INSERT INTO `settlement` (`invoice_id`, `payment_id`, `date`, `amount`, `let_off`, `reversed`) SELECT `invoice_id`, `id`, `date`, `amount`, 0, `reversed` FROM `__closed_by` ORDER BY `id`;--> statement-breakpoint
DROP TABLE `__closed_by`;
