ALTER TABLE `customer_order_line` ADD `quoted_line_id` integer;--> statement-breakpoint
CREATE INDEX `customer_order_line_quoted` ON `customer_order_line` (`quoted_line_id`);