CREATE TABLE `promised_unreserved` (
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	PRIMARY KEY(`item_id`, `warehouse_id`)
);
--> statement-breakpoint
INSERT INTO `promised_unreserved` SELECT DISTINCT l.`item_id`, o.`warehouse_id` FROM `customer_order_line` l JOIN `customer_order` o ON o.`id` = l.`order_id` WHERE o.`state` IN ('confirmed', 'partShipped') AND l.`promise_date` IS NOT NULL AND l.`quantity` > l.`shipped` + l.`cancelled`;
