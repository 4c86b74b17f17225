ALTER TABLE `customer_order` ADD `net` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `customer_order` SET `net` = CAST(round(`total` * 10000.0 / (10000 + `tax_rate`)) AS INTEGER);
