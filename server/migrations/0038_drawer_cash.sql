CREATE TABLE `drawer_cash` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`drawer_id` integer NOT NULL,
	`payment_id` integer NOT NULL,
	`amount` integer NOT NULL,
	FOREIGN KEY (`drawer_id`) REFERENCES `drawer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payment`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `drawer_cash_drawer` ON `drawer_cash` (`drawer_id`);--> statement-breakpoint
ALTER TABLE `payment` ADD `drawer_id` integer REFERENCES drawer(id);--> statement-breakpoint
-- Cash of sales over the counter went through the drawer of the sale.
UPDATE `payment` SET `drawer_id` = (
  SELECT `counter_sale`.`drawer_id` FROM `settlement` INNER JOIN `counter_sale` ON `counter_sale`.`invoice_id` = `settlement`.`invoice_id`
  WHERE `settlement`.`payment_id` = `payment`.`id` AND `counter_sale`.`drawer_id` IS NOT NULL LIMIT 1
) WHERE `method` = 'cash';
