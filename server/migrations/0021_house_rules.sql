CREATE TABLE `account_use` (
	`use` text PRIMARY KEY NOT NULL,
	`account` text NOT NULL,
	FOREIGN KEY (`account`) REFERENCES `account`(`code`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `payment_term` (
	`code` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`days` integer NOT NULL,
	`from_month_end` integer NOT NULL,
	`discount_days` integer NOT NULL,
	`discount` integer NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`version` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE `tax_rate` (
	`code` text NOT NULL,
	`valid_from` text NOT NULL,
	`rate` integer NOT NULL,
	PRIMARY KEY(`code`, `valid_from`),
	FOREIGN KEY (`code`) REFERENCES `tax_code`(`code`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `file_schedule` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`direction` text NOT NULL,
	`kind` text NOT NULL,
	`folder` text NOT NULL,
	`at` text NOT NULL,
	`active` integer DEFAULT true NOT NULL,
	`user_id` integer NOT NULL,
	`last_run` text,
	`last_words` text DEFAULT '' NOT NULL,
	`version` integer DEFAULT 1 NOT NULL,
	FOREIGN KEY (`user_id`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `file_schedule_name_unique` ON `file_schedule` (`name`);--> statement-breakpoint
CREATE TABLE `terminal` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`warehouse_id` integer,
	`secret_hash` text NOT NULL,
	`paired` integer DEFAULT false NOT NULL,
	`code_ends` integer NOT NULL,
	`last_use` text,
	`active` integer DEFAULT true NOT NULL,
	`version` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `terminal_name_unique` ON `terminal` (`name`);--> statement-breakpoint
ALTER TABLE `invoice` ADD `terms` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `invoice` ADD `discount_until` text;--> statement-breakpoint
ALTER TABLE `invoice` ADD `discount` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `receipt_line` ADD `let_go` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `customer` ADD `payment_term` text REFERENCES payment_term(code);--> statement-breakpoint
ALTER TABLE `supplier` ADD `payment_term` text REFERENCES payment_term(code);--> statement-breakpoint
ALTER TABLE `calendar` ADD `shifts` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `mail` ADD `state` text DEFAULT 'kept' NOT NULL;--> statement-breakpoint
ALTER TABLE `mail` ADD `tries` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `mail` ADD `said` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `mail` ADD `sent_at` text;--> statement-breakpoint
ALTER TABLE `user` ADD `habits` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `user` ADD `warehouse_id` integer;--> statement-breakpoint
ALTER TABLE `user` ADD `badge_hash` text;--> statement-breakpoint
ALTER TABLE `user` ADD `pin_hash` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `user` ADD `pin_tries` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX `user_badgeHash_unique` ON `user` (`badge_hash`);--> statement-breakpoint
INSERT INTO `tax_rate` (`code`, `valid_from`, `rate`) SELECT `code`, '', `rate` FROM `tax_code`;--> statement-breakpoint
ALTER TABLE `tax_code` DROP COLUMN `rate`;