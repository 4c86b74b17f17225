DROP INDEX `customer_order_customer`;--> statement-breakpoint
CREATE INDEX `customer_order_customer` ON `customer_order` (`customer_id`,`state`,`total`);--> statement-breakpoint
CREATE INDEX `invoice_customer` ON `invoice` (`customer_id`,`state`);