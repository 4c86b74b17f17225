CREATE TABLE `order_run` (
	`id` integer PRIMARY KEY NOT NULL,
	`act` text NOT NULL,
	`user_id` integer NOT NULL,
	`at` text NOT NULL,
	`state` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `order_run_row` (
	`run_id` integer NOT NULL,
	`position` integer NOT NULL,
	`order_id` integer NOT NULL,
	`state` text NOT NULL,
	`words` text NOT NULL,
	PRIMARY KEY(`run_id`, `position`),
	FOREIGN KEY (`run_id`) REFERENCES `order_run`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `order_run_row_order` ON `order_run_row` (`order_id`);--> statement-breakpoint
ALTER TABLE `customer_order` ADD `carrier` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `service` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `held` text DEFAULT '' NOT NULL;