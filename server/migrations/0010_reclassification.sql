CREATE TABLE `reclassification` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`date` text NOT NULL,
	`note` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `reclassification_number_unique` ON `reclassification` (`number`);--> statement-breakpoint
CREATE TABLE `reclassified_item` (
	`id` integer PRIMARY KEY NOT NULL,
	`reclassification_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	`from_account` text NOT NULL,
	`to_account` text NOT NULL,
	`value` integer NOT NULL,
	`last_move` integer NOT NULL,
	FOREIGN KEY (`reclassification_id`) REFERENCES `reclassification`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `reclassified_item_item` ON `reclassified_item` (`item_id`,`last_move`);