CREATE TABLE `token` (
	`id` integer PRIMARY KEY NOT NULL,
	`user_id` integer NOT NULL,
	`name` text NOT NULL,
	`secret_hash` text NOT NULL,
	`rights` text,
	`expires` integer NOT NULL,
	`last_use` text,
	`revoked` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`user_id`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `token_user` ON `token` (`user_id`);