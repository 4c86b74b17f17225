CREATE TABLE `account` (
	`code` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `journal_entry` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`date` text NOT NULL,
	`event` text NOT NULL,
	`document_kind` text NOT NULL,
	`document_id` integer NOT NULL,
	`document_number` text NOT NULL,
	`reversal_of` integer,
	`user_id` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `journal_entry_reversalOf_unique` ON `journal_entry` (`reversal_of`);--> statement-breakpoint
CREATE INDEX `journal_entry_document` ON `journal_entry` (`document_kind`,`document_id`);--> statement-breakpoint
CREATE TABLE `journal_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`entry_id` integer NOT NULL,
	`account` text NOT NULL,
	`debit` integer NOT NULL,
	`credit` integer NOT NULL,
	FOREIGN KEY (`entry_id`) REFERENCES `journal_entry`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`account`) REFERENCES `account`(`code`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "journal_line_one_side" CHECK(("journal_line"."debit" = 0) <> ("journal_line"."credit" = 0) and "journal_line"."debit" >= 0 and "journal_line"."credit" >= 0)
);
--> statement-breakpoint
CREATE INDEX `journal_line_entry` ON `journal_line` (`entry_id`);--> statement-breakpoint
CREATE INDEX `journal_line_account` ON `journal_line` (`account`);--> statement-breakpoint
CREATE TABLE `purchase_order` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`supplier_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`order_date` text NOT NULL,
	`state` text NOT NULL,
	`note` text NOT NULL,
	`total` integer DEFAULT 0 NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`supplier_id`) REFERENCES `supplier`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `purchase_order_number_unique` ON `purchase_order` (`number`);--> statement-breakpoint
CREATE INDEX `purchase_order_state` ON `purchase_order` (`state`);--> statement-breakpoint
CREATE TABLE `purchase_order_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`order_id` integer NOT NULL,
	`position` integer NOT NULL,
	`item_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`price` integer NOT NULL,
	`due_date` text NOT NULL,
	`received` integer NOT NULL,
	`cancelled` integer NOT NULL,
	FOREIGN KEY (`order_id`) REFERENCES `purchase_order`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `purchase_order_line_order` ON `purchase_order_line` (`order_id`);--> statement-breakpoint
CREATE INDEX `purchase_order_line_item` ON `purchase_order_line` (`item_id`);--> statement-breakpoint
CREATE TABLE `receipt` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`purchase_order_id` integer NOT NULL,
	`date` text NOT NULL,
	`delivery_note` text NOT NULL,
	`entry_id` integer,
	`reversed` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`purchase_order_id`) REFERENCES `purchase_order`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `receipt_number_unique` ON `receipt` (`number`);--> statement-breakpoint
CREATE TABLE `receipt_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`receipt_id` integer NOT NULL,
	`order_line_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	FOREIGN KEY (`receipt_id`) REFERENCES `receipt`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_line_id`) REFERENCES `purchase_order_line`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `bin` (
	`id` integer PRIMARY KEY NOT NULL,
	`warehouse_id` integer NOT NULL,
	`code` text NOT NULL,
	`dock` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `bin_code` ON `bin` (`warehouse_id`,`code`);--> statement-breakpoint
CREATE TABLE `bom_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`position` integer NOT NULL,
	`component_id` integer NOT NULL,
	`quantity` text NOT NULL,
	`scrap` text NOT NULL,
	`offset_days` integer NOT NULL,
	`valid_from` text,
	`valid_to` text,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`component_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `bom_line_item` ON `bom_line` (`item_id`);--> statement-breakpoint
CREATE INDEX `bom_line_component` ON `bom_line` (`component_id`);--> statement-breakpoint
CREATE TABLE `calendar` (
	`code` text PRIMARY KEY NOT NULL,
	`workdays` text NOT NULL,
	`holidays` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `customer` (
	`id` integer PRIMARY KEY NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`address` text NOT NULL,
	`email` text NOT NULL,
	`payment_days` integer NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	`tax_rate` integer NOT NULL,
	`on_hold` integer DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `customer_code_unique` ON `customer` (`code`);--> statement-breakpoint
CREATE TABLE `item` (
	`id` integer PRIMARY KEY NOT NULL,
	`code` text NOT NULL,
	`second_code` text,
	`description` text NOT NULL,
	`kind` text NOT NULL,
	`group_code` text NOT NULL,
	`unit_code` text NOT NULL,
	`tracking` text DEFAULT 'none' NOT NULL,
	`costing` text DEFAULT 'movingAverage' NOT NULL,
	`sell_price` integer NOT NULL,
	`selling_notes` text DEFAULT '' NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`group_code`) REFERENCES `item_group`(`code`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`unit_code`) REFERENCES `unit`(`code`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `item_code_unique` ON `item` (`code`);--> statement-breakpoint
CREATE INDEX `item_second_code` ON `item` (`second_code`);--> statement-breakpoint
CREATE TABLE `item_barcode` (
	`barcode` text PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `item_group` (
	`code` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`parent` text,
	`inventory_account` text NOT NULL,
	`cost_of_sales_account` text NOT NULL,
	`revenue_account` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `pack_unit` (
	`item_id` integer NOT NULL,
	`code` text NOT NULL,
	`factor` integer NOT NULL,
	PRIMARY KEY(`item_id`, `code`),
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `planning_rule` (
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`source` text NOT NULL,
	`lead_days` integer NOT NULL,
	`safety` integer NOT NULL,
	`minimum` integer NOT NULL,
	`multiple` integer NOT NULL,
	`slack_days` integer NOT NULL,
	PRIMARY KEY(`item_id`, `warehouse_id`),
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `reason` (
	`code` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`account` text NOT NULL,
	`note_needed` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `supplier` (
	`id` integer PRIMARY KEY NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`address` text NOT NULL,
	`email` text NOT NULL,
	`payment_days` integer NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`version` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `supplier_code_unique` ON `supplier` (`code`);--> statement-breakpoint
CREATE TABLE `supplier_term` (
	`id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`supplier_id` integer NOT NULL,
	`supplier_item_code` text NOT NULL,
	`price` integer NOT NULL,
	`lead_days` integer NOT NULL,
	`minimum` integer NOT NULL,
	`multiple` integer NOT NULL,
	`preferred` integer NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`supplier_id`) REFERENCES `supplier`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `supplier_term_pair` ON `supplier_term` (`item_id`,`supplier_id`);--> statement-breakpoint
CREATE TABLE `unit` (
	`code` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`decimals` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `warehouse` (
	`id` integer PRIMARY KEY NOT NULL,
	`code` text NOT NULL,
	`name` text NOT NULL,
	`calendar` text NOT NULL,
	FOREIGN KEY (`calendar`) REFERENCES `calendar`(`code`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `warehouse_code_unique` ON `warehouse` (`code`);--> statement-breakpoint
CREATE TABLE `shipment` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`order_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`date` text NOT NULL,
	`carrier` text NOT NULL,
	`state` text NOT NULL,
	`entry_id` integer,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`order_id`) REFERENCES `customer_order`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `shipment_number_unique` ON `shipment` (`number`);--> statement-breakpoint
CREATE INDEX `shipment_order` ON `shipment` (`order_id`);--> statement-breakpoint
CREATE INDEX `shipment_state` ON `shipment` (`state`);--> statement-breakpoint
CREATE TABLE `shipment_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`shipment_id` integer NOT NULL,
	`order_line_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	FOREIGN KEY (`shipment_id`) REFERENCES `shipment`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_line_id`) REFERENCES `customer_order_line`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `shipment_line_shipment` ON `shipment_line` (`shipment_id`);--> statement-breakpoint
CREATE INDEX `shipment_line_order_line` ON `shipment_line` (`order_line_id`);--> statement-breakpoint
CREATE TABLE `plan_exception` (
	`id` integer PRIMARY KEY NOT NULL,
	`run_id` integer NOT NULL,
	`kind` text NOT NULL,
	`subject` text NOT NULL,
	`item` text NOT NULL,
	`warehouse` text NOT NULL,
	`from_date` text NOT NULL,
	`to_date` text,
	`quantity` text NOT NULL,
	FOREIGN KEY (`run_id`) REFERENCES `plan_run`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `plan_peg` (
	`id` integer PRIMARY KEY NOT NULL,
	`run_id` integer NOT NULL,
	`item` text NOT NULL,
	`warehouse` text NOT NULL,
	`supply_kind` text NOT NULL,
	`supply` text NOT NULL,
	`day` text NOT NULL,
	`demand` text NOT NULL,
	`quantity` text NOT NULL,
	FOREIGN KEY (`run_id`) REFERENCES `plan_run`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `plan_peg_demand` ON `plan_peg` (`demand`);--> statement-breakpoint
CREATE INDEX `plan_peg_supply` ON `plan_peg` (`supply`);--> statement-breakpoint
CREATE TABLE `plan_problem` (
	`id` integer PRIMARY KEY NOT NULL,
	`run_id` integer NOT NULL,
	`code` text NOT NULL,
	`subject` text NOT NULL,
	`message` text NOT NULL,
	FOREIGN KEY (`run_id`) REFERENCES `plan_run`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `plan_run` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`today` text NOT NULL,
	`horizon` text NOT NULL,
	`milliseconds` integer NOT NULL,
	`history_id` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `plan_suggestion` (
	`id` integer PRIMARY KEY NOT NULL,
	`run_id` integer NOT NULL,
	`name` text NOT NULL,
	`kind` text NOT NULL,
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`quantity` text NOT NULL,
	`place_by` text NOT NULL,
	`due` text NOT NULL,
	`needed_by` text NOT NULL,
	`days_late` integer NOT NULL,
	`supplier_id` integer,
	`why` text NOT NULL,
	`level` integer NOT NULL,
	`pegs` text NOT NULL,
	`released_kind` text,
	`released_id` integer,
	`released_number` text,
	FOREIGN KEY (`run_id`) REFERENCES `plan_run`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `plan_suggestion_run` ON `plan_suggestion` (`run_id`);--> statement-breakpoint
CREATE INDEX `plan_suggestion_item` ON `plan_suggestion` (`item_id`);--> statement-breakpoint
CREATE TABLE `file` (
	`id` integer PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`record_id` integer NOT NULL,
	`name` text NOT NULL,
	`type` text NOT NULL,
	`size` integer NOT NULL,
	`checksum` text NOT NULL,
	`at` text NOT NULL,
	`user_id` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `file_record` ON `file` (`kind`,`record_id`,`name`,`checksum`);--> statement-breakpoint
CREATE TABLE `history` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`user_id` integer NOT NULL,
	`kind` text NOT NULL,
	`record_id` integer NOT NULL,
	`what` text NOT NULL,
	`changes` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `history_record` ON `history` (`kind`,`record_id`);--> statement-breakpoint
CREATE TABLE `idempotency` (
	`user_id` integer NOT NULL,
	`key` text NOT NULL,
	`fingerprint` text NOT NULL,
	`answer` text NOT NULL,
	`at` text NOT NULL,
	PRIMARY KEY(`user_id`, `key`)
);
--> statement-breakpoint
CREATE TABLE `mail` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`recipient` text NOT NULL,
	`subject` text NOT NULL,
	`body` text NOT NULL,
	`document_kind` text NOT NULL,
	`document_id` integer NOT NULL,
	`document_number` text NOT NULL,
	`attachment` text
);
--> statement-breakpoint
CREATE TABLE `notice` (
	`id` integer PRIMARY KEY NOT NULL,
	`user_id` integer NOT NULL,
	`at` text NOT NULL,
	`text` text NOT NULL,
	`link_kind` text,
	`link_id` integer,
	`read_at` text
);
--> statement-breakpoint
CREATE INDEX `notice_user` ON `notice` (`user_id`,`read_at`);--> statement-breakpoint
CREATE TABLE `preference` (
	`user_id` integer NOT NULL,
	`key` text NOT NULL,
	`value` text NOT NULL,
	PRIMARY KEY(`user_id`, `key`),
	FOREIGN KEY (`user_id`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `sequence` (
	`prefix` text PRIMARY KEY NOT NULL,
	`next` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `session` (
	`id` text PRIMARY KEY NOT NULL,
	`data` text NOT NULL,
	`expires` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `setting` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `trail_link` (
	`from_kind` text NOT NULL,
	`from_id` integer NOT NULL,
	`to_kind` text NOT NULL,
	`to_id` integer NOT NULL,
	PRIMARY KEY(`from_kind`, `from_id`, `to_kind`, `to_id`)
);
--> statement-breakpoint
CREATE INDEX `trail_to` ON `trail_link` (`to_kind`,`to_id`);--> statement-breakpoint
CREATE TABLE `user` (
	`id` integer PRIMARY KEY NOT NULL,
	`login` text NOT NULL,
	`name` text NOT NULL,
	`role` text NOT NULL,
	`password_hash` text NOT NULL,
	`active` integer DEFAULT true NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `user_login_unique` ON `user` (`login`);--> statement-breakpoint
CREATE TABLE `completion` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`order_id` integer NOT NULL,
	`date` text NOT NULL,
	`quantity` integer NOT NULL,
	`cost` integer NOT NULL,
	`reversed` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`order_id`) REFERENCES `production_order`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `completion_number_unique` ON `completion` (`number`);--> statement-breakpoint
CREATE TABLE `completion_take` (
	`id` integer PRIMARY KEY NOT NULL,
	`completion_id` integer NOT NULL,
	`component_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	FOREIGN KEY (`completion_id`) REFERENCES `completion`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`component_id`) REFERENCES `production_component`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `completion_take_completion` ON `completion_take` (`completion_id`);--> statement-breakpoint
CREATE TABLE `production_component` (
	`id` integer PRIMARY KEY NOT NULL,
	`order_id` integer NOT NULL,
	`position` integer NOT NULL,
	`item_id` integer NOT NULL,
	`per` text NOT NULL,
	`scrap` text NOT NULL,
	`offset_days` integer NOT NULL,
	`needed` integer NOT NULL,
	`issued` integer NOT NULL,
	FOREIGN KEY (`order_id`) REFERENCES `production_order`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `production_component_order` ON `production_component` (`order_id`);--> statement-breakpoint
CREATE INDEX `production_component_item` ON `production_component` (`item_id`);--> statement-breakpoint
CREATE TABLE `production_order` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`finished` integer NOT NULL,
	`start_date` text NOT NULL,
	`due_date` text NOT NULL,
	`state` text NOT NULL,
	`note` text NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `production_order_number_unique` ON `production_order` (`number`);--> statement-breakpoint
CREATE INDEX `production_order_state` ON `production_order` (`state`);--> statement-breakpoint
CREATE INDEX `production_order_item` ON `production_order` (`item_id`);--> statement-breakpoint
CREATE TABLE `customer_order` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`customer_id` integer NOT NULL,
	`reference` text NOT NULL,
	`warehouse_id` integer NOT NULL,
	`order_date` text NOT NULL,
	`required_date` text NOT NULL,
	`promise_date` text,
	`state` text NOT NULL,
	`open` integer DEFAULT true NOT NULL,
	`note` text NOT NULL,
	`total` integer NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`customer_id`) REFERENCES `customer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `customer_order_number_unique` ON `customer_order` (`number`);--> statement-breakpoint
CREATE INDEX `customer_order_open` ON `customer_order` (`open`,`required_date`,`id`);--> statement-breakpoint
CREATE INDEX `customer_order_required` ON `customer_order` (`required_date`,`id`);--> statement-breakpoint
CREATE INDEX `customer_order_customer` ON `customer_order` (`customer_id`);--> statement-breakpoint
CREATE INDEX `customer_order_state` ON `customer_order` (`state`);--> statement-breakpoint
CREATE TABLE `customer_order_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`order_id` integer NOT NULL,
	`position` integer NOT NULL,
	`item_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`price` integer NOT NULL,
	`discount` integer NOT NULL,
	`required_date` text NOT NULL,
	`promise_date` text,
	`shipped` integer NOT NULL,
	`invoiced` integer NOT NULL,
	`cancelled` integer NOT NULL,
	FOREIGN KEY (`order_id`) REFERENCES `customer_order`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `customer_order_line_order` ON `customer_order_line` (`order_id`);--> statement-breakpoint
CREATE INDEX `customer_order_line_item` ON `customer_order_line` (`item_id`);--> statement-breakpoint
CREATE TABLE `invoice` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`customer_id` integer NOT NULL,
	`order_id` integer NOT NULL,
	`date` text NOT NULL,
	`due_date` text NOT NULL,
	`state` text NOT NULL,
	`net` integer NOT NULL,
	`tax` integer NOT NULL,
	`total` integer NOT NULL,
	`paid` integer NOT NULL,
	`entry_id` integer,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`customer_id`) REFERENCES `customer`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_id`) REFERENCES `customer_order`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `invoice_number_unique` ON `invoice` (`number`);--> statement-breakpoint
CREATE INDEX `invoice_order` ON `invoice` (`order_id`);--> statement-breakpoint
CREATE INDEX `invoice_state` ON `invoice` (`state`,`due_date`);--> statement-breakpoint
CREATE TABLE `invoice_line` (
	`id` integer PRIMARY KEY NOT NULL,
	`invoice_id` integer NOT NULL,
	`order_line_id` integer NOT NULL,
	`item_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`price` integer NOT NULL,
	`discount` integer NOT NULL,
	`amount` integer NOT NULL,
	FOREIGN KEY (`invoice_id`) REFERENCES `invoice`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`order_line_id`) REFERENCES `customer_order_line`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `invoice_line_invoice` ON `invoice_line` (`invoice_id`);--> statement-breakpoint
CREATE TABLE `payment` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`invoice_id` integer NOT NULL,
	`date` text NOT NULL,
	`amount` integer NOT NULL,
	`method` text NOT NULL,
	`entry_id` integer NOT NULL,
	`reversed` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`invoice_id`) REFERENCES `invoice`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `payment_number_unique` ON `payment` (`number`);--> statement-breakpoint
CREATE TABLE `adjustment` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`date` text NOT NULL,
	`warehouse_id` integer NOT NULL,
	`reason` text NOT NULL,
	`note` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `adjustment_number_unique` ON `adjustment` (`number`);--> statement-breakpoint
CREATE TABLE `balance` (
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`bin_id` integer NOT NULL,
	`lot` text NOT NULL,
	`serial` text NOT NULL,
	`state` text NOT NULL,
	`quantity` integer NOT NULL,
	PRIMARY KEY(`item_id`, `warehouse_id`, `bin_id`, `lot`, `serial`, `state`),
	FOREIGN KEY (`warehouse_id`) REFERENCES `warehouse`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`bin_id`) REFERENCES `bin`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "balance_not_negative" CHECK("balance"."quantity" >= 0)
);
--> statement-breakpoint
CREATE TABLE `cost_pool` (
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`value` integer NOT NULL,
	PRIMARY KEY(`item_id`, `warehouse_id`),
	CONSTRAINT "cost_pool_not_negative" CHECK("cost_pool"."quantity" >= 0 and "cost_pool"."value" >= 0)
);
--> statement-breakpoint
CREATE TABLE `reservation` (
	`id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`holder_kind` text NOT NULL,
	`holder_id` integer NOT NULL,
	`document_id` integer NOT NULL,
	`document_number` text NOT NULL,
	`quantity` integer NOT NULL,
	CONSTRAINT "reservation_positive" CHECK("reservation"."quantity" > 0)
);
--> statement-breakpoint
CREATE UNIQUE INDEX `reservation_holder` ON `reservation` (`holder_kind`,`holder_id`);--> statement-breakpoint
CREATE INDEX `reservation_item` ON `reservation` (`item_id`,`warehouse_id`);--> statement-breakpoint
CREATE TABLE `reserved_stock` (
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	PRIMARY KEY(`item_id`, `warehouse_id`),
	CONSTRAINT "reserved_stock_not_negative" CHECK("reserved_stock"."quantity" >= 0)
);
--> statement-breakpoint
CREATE TABLE `stock_move` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`date` text NOT NULL,
	`item_id` integer NOT NULL,
	`quantity` integer NOT NULL,
	`value` integer NOT NULL,
	`from_kind` text NOT NULL,
	`from_id` integer NOT NULL,
	`from_bin_id` integer DEFAULT 0 NOT NULL,
	`from_lot` text DEFAULT '' NOT NULL,
	`from_serial` text DEFAULT '' NOT NULL,
	`from_state` text DEFAULT '' NOT NULL,
	`to_kind` text NOT NULL,
	`to_id` integer NOT NULL,
	`to_bin_id` integer DEFAULT 0 NOT NULL,
	`to_lot` text DEFAULT '' NOT NULL,
	`to_serial` text DEFAULT '' NOT NULL,
	`to_state` text DEFAULT '' NOT NULL,
	`document_kind` text NOT NULL,
	`document_id` integer NOT NULL,
	`document_number` text NOT NULL,
	`entry_id` integer,
	`reversal_of` integer,
	`user_id` integer NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	FOREIGN KEY (`item_id`) REFERENCES `item`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "stock_move_quantity" CHECK("stock_move"."quantity" > 0)
);
--> statement-breakpoint
CREATE UNIQUE INDEX `stock_move_reversalOf_unique` ON `stock_move` (`reversal_of`);--> statement-breakpoint
CREATE INDEX `stock_move_item` ON `stock_move` (`item_id`);--> statement-breakpoint
CREATE INDEX `stock_move_document` ON `stock_move` (`document_kind`,`document_id`);