ALTER TABLE `customer_order` ADD `tax_rate` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `customer_order` SET `tax_rate` = (SELECT `tax_rate` FROM `customer` WHERE `customer`.`id` = `customer_order`.`customer_id`);
