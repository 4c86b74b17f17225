DROP INDEX `customer_order_open`;--> statement-breakpoint
CREATE INDEX `customer_order_open` ON `customer_order` (`open`,`required_date`,`id`) WHERE kind = 'order';