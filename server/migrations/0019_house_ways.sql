CREATE TABLE `numbering` (
	`kind` text PRIMARY KEY NOT NULL,
	`prefix` text NOT NULL,
	`width` integer NOT NULL,
	`by_year` integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE `reason` ADD `active` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `reason` ADD `version` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `sequence` ADD `kind` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `sequence` ADD `given` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `sequence` SET `kind` = `prefix`, `given` = `next` - 1001;
