DROP INDEX `customer_order_customer`;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `currency` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `rate` integer DEFAULT 100000000 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `books_net` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order` ADD `books_total` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX `customer_order_customer` ON `customer_order` (`customer_id`,`state`,`books_total`);--> statement-breakpoint
ALTER TABLE `invoice` ADD `currency` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice` ADD `rate` integer DEFAULT 100000000 NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice` ADD `books_net` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice` ADD `books_total` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice` ADD `books_paid` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice_line` ADD `books_amount` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `payment` ADD `currency` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `payment` ADD `rate` integer DEFAULT 100000000 NOT NULL;--> statement-breakpoint
ALTER TABLE `payment` ADD `books_amount` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `settlement` ADD `books` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `settlement` ADD `books_taken` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `customer_order` SET `currency` = coalesce((SELECT `value` FROM `setting` WHERE `key` = 'currency'), 'EUR'), `books_net` = `net`, `books_total` = `total`;--> statement-breakpoint
UPDATE `invoice` SET `currency` = coalesce((SELECT `value` FROM `setting` WHERE `key` = 'currency'), 'EUR'), `books_net` = `net`, `books_total` = `total`, `books_paid` = `paid`;--> statement-breakpoint
UPDATE `invoice_line` SET `books_amount` = `amount`;--> statement-breakpoint
UPDATE `payment` SET `currency` = coalesce((SELECT `value` FROM `setting` WHERE `key` = 'currency'), 'EUR'), `books_amount` = `amount`;--> statement-breakpoint
UPDATE `settlement` SET `books` = `amount`, `books_taken` = `amount` - `let_off`;--> statement-breakpoint
INSERT OR IGNORE INTO `account` (`code`, `name`) SELECT `code`, `name` FROM (SELECT '4050' AS `code`, 'Exchange gains' AS `name` UNION ALL SELECT '5430', 'Exchange losses') WHERE EXISTS (SELECT 1 FROM `account`);
