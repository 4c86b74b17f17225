CREATE TABLE `import_mapping` (
	`kind` text NOT NULL,
	`headings` text NOT NULL,
	`mapping` text NOT NULL,
	PRIMARY KEY(`kind`, `headings`)
);
--> statement-breakpoint
CREATE TABLE `import_run` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`kind` text NOT NULL,
	`file_name` text NOT NULL,
	`checksum` text NOT NULL,
	`at` text NOT NULL,
	`user_id` integer NOT NULL,
	`state` text NOT NULL,
	`added` integer DEFAULT 0 NOT NULL,
	`changed` integer DEFAULT 0 NOT NULL,
	`same` integer DEFAULT 0 NOT NULL,
	`refused` integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `import_run_number_unique` ON `import_run` (`number`);--> statement-breakpoint
CREATE TABLE `custom_field` (
	`id` integer PRIMARY KEY NOT NULL,
	`record` text NOT NULL,
	`title` text NOT NULL,
	`type` text NOT NULL,
	`choices` text NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`version` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE `custom_value` (
	`field_id` integer NOT NULL,
	`record_id` integer NOT NULL,
	`value` text NOT NULL,
	PRIMARY KEY(`field_id`, `record_id`),
	FOREIGN KEY (`field_id`) REFERENCES `custom_field`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `custom_value_value` ON `custom_value` (`field_id`,`value`);--> statement-breakpoint
CREATE TABLE `currency` (
	`code` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `customer_group` (
	`code` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `exchange_rate` (
	`currency` text NOT NULL,
	`date` text NOT NULL,
	`rate` integer NOT NULL,
	PRIMARY KEY(`currency`, `date`),
	FOREIGN KEY (`currency`) REFERENCES `currency`(`code`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `party_address` (
	`id` integer PRIMARY KEY NOT NULL,
	`party` text NOT NULL,
	`party_id` integer NOT NULL,
	`label` text NOT NULL,
	`address` text NOT NULL,
	`position` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `party_address_party` ON `party_address` (`party`,`party_id`);--> statement-breakpoint
CREATE TABLE `party_contact` (
	`id` integer PRIMARY KEY NOT NULL,
	`party` text NOT NULL,
	`party_id` integer NOT NULL,
	`name` text NOT NULL,
	`part` text NOT NULL,
	`email` text NOT NULL,
	`phone` text NOT NULL,
	`position` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `party_contact_party` ON `party_contact` (`party`,`party_id`);--> statement-breakpoint
CREATE TABLE `tax_code` (
	`code` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`rate` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `term_break` (
	`term_id` integer NOT NULL,
	`from_quantity` integer NOT NULL,
	`price` integer NOT NULL,
	PRIMARY KEY(`term_id`, `from_quantity`),
	FOREIGN KEY (`term_id`) REFERENCES `supplier_term`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `item_family` (
	`id` integer PRIMARY KEY NOT NULL,
	`code` text NOT NULL,
	`description` text NOT NULL,
	`group_code` text NOT NULL,
	`attributes` text NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`group_code`) REFERENCES `item_group`(`code`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `item_family_code_unique` ON `item_family` (`code`);--> statement-breakpoint
CREATE TABLE `item_substitute` (
	`item_id` integer NOT NULL,
	`substitute_id` integer NOT NULL,
	`ratio` integer NOT NULL,
	`both_ways` integer NOT NULL,
	PRIMARY KEY(`item_id`, `substitute_id`),
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`substitute_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `item_substitute_other` ON `item_substitute` (`substitute_id`);--> statement-breakpoint
CREATE TABLE `item_use` (
	`item_id` integer PRIMARY KEY NOT NULL,
	`uses` integer NOT NULL,
	`last` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `unit_size` (
	`item_id` integer NOT NULL,
	`unit_code` text NOT NULL,
	`weight` integer,
	`length` integer,
	`width` integer,
	`height` integer,
	PRIMARY KEY(`item_id`, `unit_code`),
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `price_break` (
	`entry_id` integer NOT NULL,
	`from_quantity` integer NOT NULL,
	`value` integer NOT NULL,
	PRIMARY KEY(`entry_id`, `from_quantity`),
	FOREIGN KEY (`entry_id`) REFERENCES `price_entry`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `price_entry` (
	`id` integer PRIMARY KEY NOT NULL,
	`list_id` integer NOT NULL,
	`item_id` integer,
	`group_code` text,
	`way` text NOT NULL,
	`valid_from` text,
	`valid_to` text,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`list_id`) REFERENCES `price_list`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`group_code`) REFERENCES `item_group`(`code`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `price_entry_list` ON `price_entry` (`list_id`);--> statement-breakpoint
CREATE INDEX `price_entry_item` ON `price_entry` (`item_id`);--> statement-breakpoint
CREATE INDEX `price_entry_group` ON `price_entry` (`group_code`);--> statement-breakpoint
CREATE TABLE `price_list` (
	`id` integer PRIMARY KEY NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`currency` text NOT NULL,
	`customer_id` integer,
	`customer_group` text,
	`valid_from` text,
	`valid_to` text,
	`rounding` text NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`customer_id`) REFERENCES `customer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`customer_group`) REFERENCES `customer_group`(`code`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `price_list_code_unique` ON `price_list` (`code`);--> statement-breakpoint
DROP INDEX `supplier_term_pair`;--> statement-breakpoint
ALTER TABLE `supplier_term` ADD `supplier_description` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `supplier_term` ADD `currency` text DEFAULT 'EUR' NOT NULL;--> statement-breakpoint
ALTER TABLE `supplier_term` ADD `discount` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `supplier_term` ADD `buy_unit` text;--> statement-breakpoint
ALTER TABLE `supplier_term` ADD `valid_from` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `supplier_term` ADD `valid_to` text;--> statement-breakpoint
ALTER TABLE `supplier_term` ADD `version` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
CREATE INDEX `supplier_term_code` ON `supplier_term` (`supplier_item_code`);--> statement-breakpoint
CREATE INDEX `supplier_term_supplier` ON `supplier_term` (`supplier_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `supplier_term_pair` ON `supplier_term` (`item_id`,`supplier_id`,`valid_from`);--> statement-breakpoint
ALTER TABLE `calendar` ADD `version` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer` ADD `currency` text DEFAULT 'EUR' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer` ADD `tax_code` text;--> statement-breakpoint
ALTER TABLE `customer` ADD `group_code` text;--> statement-breakpoint
ALTER TABLE `customer` ADD `price_list_id` integer;--> statement-breakpoint
ALTER TABLE `customer` ADD `carrier` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer` ADD `service` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer` ADD `credit_limit` integer;--> statement-breakpoint
ALTER TABLE `item` ADD `manufacturer` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `item` ADD `origin_country` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `item` ADD `commodity_code` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `item` ADD `buy_price` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `item` ADD `standard_cost` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `item` ADD `storage_overhead` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `item` ADD `discount_ceiling` integer;--> statement-breakpoint
ALTER TABLE `item` ADD `shelf_life_days` integer;--> statement-breakpoint
ALTER TABLE `item` ADD `rest_life_days` integer;--> statement-breakpoint
ALTER TABLE `item` ADD `buy_unit` text;--> statement-breakpoint
ALTER TABLE `item` ADD `sell_unit` text;--> statement-breakpoint
ALTER TABLE `item` ADD `count_unit` text;--> statement-breakpoint
ALTER TABLE `item` ADD `follows` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `item` ADD `family_id` integer REFERENCES item_family(id);--> statement-breakpoint
ALTER TABLE `item` ADD `variant` text;--> statement-breakpoint
CREATE INDEX `item_of_group` ON `item` (`group_code`);--> statement-breakpoint
CREATE INDEX `item_of_family` ON `item` (`family_id`);--> statement-breakpoint
ALTER TABLE `item_barcode` ADD `unit_code` text;--> statement-breakpoint
ALTER TABLE `item_group` ADD `defaults` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `item_group` ADD `version` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `version` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `supplier` ADD `currency` text DEFAULT 'EUR' NOT NULL;--> statement-breakpoint
ALTER TABLE `supplier` ADD `lead_days` integer;--> statement-breakpoint
ALTER TABLE `supplier` ADD `calendar` text REFERENCES calendar(code);--> statement-breakpoint
ALTER TABLE `unit` ADD `version` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `price_steps` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `customer_order_line` ADD `discount_reason` text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX `item_barcode_item` ON `item_barcode` (`item_id`);
--> statement-breakpoint
CREATE VIRTUAL TABLE `item_words` USING fts5(words, content='', contentless_delete=1, detail='none', prefix='2 3', tokenize='unicode61 remove_diacritics 2');
--> statement-breakpoint
INSERT INTO `item_words` (rowid, words) SELECT id, code || ' ' || description || ' ' || coalesce(second_code, '') || ' ' || manufacturer FROM `item`;
--> statement-breakpoint
CREATE TRIGGER `item_words_inserted` AFTER INSERT ON `item` BEGIN INSERT INTO `item_words` (rowid, words) VALUES (NEW.id, NEW.code || ' ' || NEW.description || ' ' || coalesce(NEW.second_code, '') || ' ' || NEW.manufacturer); END;
--> statement-breakpoint
CREATE TRIGGER `item_words_updated` AFTER UPDATE OF `code`, `description`, `second_code`, `manufacturer` ON `item` BEGIN INSERT OR REPLACE INTO `item_words` (rowid, words) VALUES (NEW.id, NEW.code || ' ' || NEW.description || ' ' || coalesce(NEW.second_code, '') || ' ' || NEW.manufacturer); END;
--> statement-breakpoint
CREATE VIRTUAL TABLE `item_vocabulary` USING fts5vocab(`item_words`, row);
--> statement-breakpoint
INSERT INTO `item_use` (`item_id`, `uses`, `last`) SELECT l.item_id, count(*), max(o.order_date) FROM `customer_order_line` l JOIN `customer_order` o ON o.id = l.order_id GROUP BY l.item_id;
--> statement-breakpoint
CREATE TRIGGER `item_sold` AFTER INSERT ON `customer_order_line` BEGIN INSERT INTO `item_use` (`item_id`, `uses`, `last`) SELECT NEW.item_id, 1, o.order_date FROM `customer_order` o WHERE o.id = NEW.order_id ON CONFLICT (`item_id`) DO UPDATE SET `uses` = `uses` + 1, `last` = max(`last`, excluded.last); END;
--> statement-breakpoint
CREATE TRIGGER `item_bought` AFTER INSERT ON `purchase_order_line` BEGIN INSERT INTO `item_use` (`item_id`, `uses`, `last`) SELECT NEW.item_id, 1, o.order_date FROM `purchase_order` o WHERE o.id = NEW.order_id ON CONFLICT (`item_id`) DO UPDATE SET `uses` = `uses` + 1, `last` = max(`last`, excluded.last); END;
--> statement-breakpoint
CREATE UNIQUE INDEX `item_code_any_case` ON `item` (`code` COLLATE NOCASE);
--> statement-breakpoint
CREATE UNIQUE INDEX `customer_code_any_case` ON `customer` (`code` COLLATE NOCASE);
--> statement-breakpoint
CREATE UNIQUE INDEX `supplier_code_any_case` ON `supplier` (`code` COLLATE NOCASE);
