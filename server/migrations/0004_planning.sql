CREATE TABLE `forecast_figure` (
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`start` text NOT NULL,
	`computed` integer NOT NULL,
	`low` integer NOT NULL,
	`high` integer NOT NULL,
	`typed` integer,
	`note` text DEFAULT '' NOT NULL,
	PRIMARY KEY(`item_id`, `warehouse_id`, `start`)
);
--> statement-breakpoint
CREATE TABLE `forecast_series` (
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`period` text NOT NULL,
	`asked` text NOT NULL,
	`method` text NOT NULL,
	`at` text NOT NULL,
	`history` text NOT NULL,
	`errors` text NOT NULL,
	`reference_id` integer,
	`factor` text DEFAULT '1' NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	PRIMARY KEY(`item_id`, `warehouse_id`)
);
--> statement-breakpoint
CREATE TABLE `plan_firm` (
	`id` integer PRIMARY KEY NOT NULL,
	`number` text NOT NULL,
	`kind` text NOT NULL,
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`from_id` integer,
	`supplier_id` integer,
	`quantity` integer NOT NULL,
	`place_by` text NOT NULL,
	`due` text NOT NULL,
	`note` text DEFAULT '' NOT NULL,
	`user_id` integer NOT NULL,
	`version` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `plan_firm_number_unique` ON `plan_firm` (`number`);--> statement-breakpoint
CREATE TABLE `plan_ignored` (
	`id` integer PRIMARY KEY NOT NULL,
	`item_id` integer NOT NULL,
	`warehouse_id` integer NOT NULL,
	`until` text NOT NULL,
	`note` text NOT NULL,
	`user_id` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `plan_ignored_place` ON `plan_ignored` (`item_id`,`warehouse_id`);--> statement-breakpoint
CREATE TABLE `plan_release` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`history_id` integer NOT NULL,
	`document_kind` text NOT NULL,
	`document_id` integer NOT NULL,
	`document_number` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `plan_release_name` ON `plan_release` (`name`);--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `from_id` integer REFERENCES warehouse(id);--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `lot_sizing` text DEFAULT '{"kind":"lotForLot"}' NOT NULL;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `maximum` integer;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `usable` text DEFAULT '1' NOT NULL;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `fence_days` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `demand` text DEFAULT 'orders' NOT NULL;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `consume_back` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `consume_forward` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `planning_rule` ADD `safety_by` text DEFAULT '{"by":"quantity"}' NOT NULL;