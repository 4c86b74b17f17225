CREATE TABLE `past_demand` (
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`start` text NOT NULL,
	`quantity` integer NOT NULL,
	PRIMARY KEY(`item_id`, `warehouse_id`, `start`)
);
