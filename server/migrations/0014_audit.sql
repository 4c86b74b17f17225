CREATE TABLE `audit` (
	`id` integer PRIMARY KEY NOT NULL,
	`at` text NOT NULL,
	`what` text NOT NULL,
	`user_id` integer,
	`who` text NOT NULL,
	`address` text NOT NULL,
	`route` text NOT NULL,
	`outcome` text NOT NULL,
	`detail` text NOT NULL,
	`times` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `audit_user` ON `audit` (`user_id`,`what`);
--> statement-breakpoint
CREATE TRIGGER `audit_no_update` BEFORE UPDATE ON `audit` BEGIN SELECT RAISE(ABORT, 'audit is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `audit_no_delete` BEFORE DELETE ON `audit` BEGIN SELECT RAISE(ABORT, 'audit is append-only'); END;
