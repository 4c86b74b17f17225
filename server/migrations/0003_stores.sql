CREATE TABLE `shipment_pick` (
	`id` integer PRIMARY KEY NOT NULL,
	`line_id` integer NOT NULL,
	`bin_id` integer NOT NULL,
	`lot` text NOT NULL,
	`serial` text NOT NULL,
	`quantity` integer NOT NULL,
	FOREIGN KEY (`line_id`) REFERENCES `shipment_line`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `shipment_pick_line` ON `shipment_pick` (`line_id`);--> statement-breakpoint
CREATE TABLE `late_cost` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`date` text NOT NULL,
	`receipt_id` integer NOT NULL,
	`what` text NOT NULL,
	`amount` integer NOT NULL,
	`in_stock` integer NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	`reversal_of` integer
);
--> statement-breakpoint
CREATE UNIQUE INDEX `late_cost_number_unique` ON `late_cost` (`number`);--> statement-breakpoint
CREATE UNIQUE INDEX `late_cost_reversalOf_unique` ON `late_cost` (`reversal_of`);--> statement-breakpoint
CREATE INDEX `late_cost_receipt` ON `late_cost` (`receipt_id`);--> statement-breakpoint
CREATE TABLE `late_cost_share` (
	`id` integer PRIMARY KEY NOT NULL,
	`late_cost_id` integer NOT NULL,
	`move_id` integer NOT NULL,
	`amount` integer NOT NULL,
	`value` integer NOT NULL,
	FOREIGN KEY (`late_cost_id`) REFERENCES `late_cost`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `late_cost_share_cost` ON `late_cost_share` (`late_cost_id`);--> statement-breakpoint
CREATE INDEX `late_cost_share_move` ON `late_cost_share` (`move_id`);--> statement-breakpoint
CREATE TABLE `relocation` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`date` text NOT NULL,
	`reason` text NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	`reversed` integer DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `relocation_number_unique` ON `relocation` (`number`);--> statement-breakpoint
CREATE TABLE `revaluation` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`date` text NOT NULL,
	`item_id` integer NOT NULL,
	`before` integer NOT NULL,
	`after` integer NOT NULL,
	`value` integer NOT NULL,
	`note` text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `revaluation_number_unique` ON `revaluation` (`number`);--> statement-breakpoint
CREATE INDEX `revaluation_item` ON `revaluation` (`item_id`);--> statement-breakpoint
CREATE TABLE `transfer` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`from_id` integer NOT NULL,
	`to_id` integer NOT NULL,
	`date` text NOT NULL,
	`ship_date` text NOT NULL,
	`due_date` text NOT NULL,
	`carrier` text DEFAULT '' NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	`state` text NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`from_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`to_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `transfer_number_unique` ON `transfer` (`number`);--> statement-breakpoint
CREATE INDEX `transfer_state` ON `transfer` (`state`);--> statement-breakpoint
CREATE TABLE `transfer_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`transfer_id` integer NOT NULL,
	`position` integer NOT NULL,
	`item_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`shipped` integer DEFAULT 0 NOT NULL,
	`received` integer DEFAULT 0 NOT NULL,
	`lost` integer DEFAULT 0 NOT NULL,
	FOREIGN KEY (`transfer_id`) REFERENCES `transfer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "transfer_line_whole" CHECK("transfer_line"."received" + "transfer_line"."lost" <= "transfer_line"."shipped")
);
--> statement-breakpoint
CREATE INDEX `transfer_line_transfer` ON `transfer_line` (`transfer_id`);--> statement-breakpoint
CREATE INDEX `transfer_line_item` ON `transfer_line` (`item_id`);--> statement-breakpoint
CREATE TABLE `transfer_piece` (
	`id` integer PRIMARY KEY NOT NULL,
	`line_id` integer NOT NULL,
	`lot` text NOT NULL,
	`serial` text NOT NULL,
	`quantity` integer NOT NULL,
	`arrived` integer DEFAULT 0 NOT NULL,
	FOREIGN KEY (`line_id`) REFERENCES `transfer_line`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "transfer_piece_whole" CHECK("transfer_piece"."arrived" <= "transfer_piece"."quantity")
);
--> statement-breakpoint
CREATE INDEX `transfer_piece_line` ON `transfer_piece` (`line_id`);--> statement-breakpoint
CREATE TABLE `cost_layer` (
	`move_id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`value` integer NOT NULL,
	CONSTRAINT "cost_layer_there" CHECK("cost_layer"."quantity" > 0 and "cost_layer"."value" >= 0)
);
--> statement-breakpoint
CREATE INDEX `cost_layer_item` ON `cost_layer` (`item_id`,`warehouse_id`,`move_id`);--> statement-breakpoint
CREATE TABLE `worth_change` (
	`id` integer PRIMARY KEY NOT NULL,
	`date` text NOT NULL,
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`value` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `worth_change_item` ON `worth_change` (`item_id`,`warehouse_id`,`date`,`quantity`,`value`);--> statement-breakpoint
CREATE TABLE `lot` (
	`id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`code` text NOT NULL,
	`made_on` text,
	`expiry` text,
	`supplier_id` integer,
	`supplier_lot` text DEFAULT '' NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	`blocked` integer DEFAULT false NOT NULL,
	`block_reason` text DEFAULT '' NOT NULL,
	`warned` text,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `lot_code` ON `lot` (`item_id`,`code`);--> statement-breakpoint
CREATE INDEX `lot_expiry` ON `lot` (`expiry`);--> statement-breakpoint
CREATE INDEX `lot_by_code` ON `lot` (`code`);--> statement-breakpoint
CREATE TABLE `serial_number` (
	`id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`code` text NOT NULL,
	`made_on` text,
	`supplier_id` integer,
	`warranty_until` text,
	`contract_until` text,
	`contract` text DEFAULT '' NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `serial_number_code` ON `serial_number` (`item_id`,`code`);--> statement-breakpoint
CREATE INDEX `serial_number_by_code` ON `serial_number` (`code`);--> statement-breakpoint
CREATE TABLE `tracking_rule` (
	`item_id` integer PRIMARY KEY NOT NULL,
	`expiry_needed` integer DEFAULT false NOT NULL,
	`made_on_needed` integer DEFAULT false NOT NULL,
	`use_life_days` integer DEFAULT 0 NOT NULL,
	`warn_days` integer DEFAULT 0 NOT NULL,
	`serial_pattern` text DEFAULT '' NOT NULL,
	`warranty_months` integer DEFAULT 0 NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
DROP INDEX `stock_move_item`;--> statement-breakpoint
ALTER TABLE `stock_move` ADD `variance` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX `stock_move_item` ON `stock_move` (`item_id`,`date`);--> statement-breakpoint
ALTER TABLE `adjustment` ADD `reversed` integer DEFAULT false NOT NULL;--> statement-breakpoint
INSERT INTO `worth_change` (`date`, `item_id`, `warehouse_id`, `quantity`, `value`) SELECT `date`, `item_id`, `to_id`, `quantity`, `value` FROM `stock_move` WHERE `to_kind` = 'stock' AND NOT (`from_kind` = 'stock' AND `from_id` = `to_id`) UNION ALL SELECT `date`, `item_id`, `from_id`, -`quantity`, -`value` FROM `stock_move` WHERE `from_kind` = 'stock' AND NOT (`to_kind` = 'stock' AND `from_id` = `to_id`);
--> statement-breakpoint
CREATE TRIGGER `worth_change_no_update` BEFORE UPDATE ON `worth_change` BEGIN SELECT RAISE(ABORT, 'worth_change is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `worth_change_no_delete` BEFORE DELETE ON `worth_change` BEGIN SELECT RAISE(ABORT, 'worth_change is append-only'); END;
--> statement-breakpoint
INSERT OR IGNORE INTO `account` (`code`, `name`) SELECT '2110', 'Late costs to be invoiced' WHERE EXISTS (SELECT 1 FROM `account`);
--> statement-breakpoint
INSERT OR IGNORE INTO `account` (`code`, `name`) SELECT '5200', 'Change of standard costs' WHERE EXISTS (SELECT 1 FROM `account`);
--> statement-breakpoint
INSERT OR IGNORE INTO `account` (`code`, `name`) SELECT '5100', 'Cost differences' WHERE EXISTS (SELECT 1 FROM `account`);
