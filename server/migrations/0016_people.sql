CREATE TABLE `invitation` (
	`id` integer PRIMARY KEY NOT NULL,
	`user_id` integer NOT NULL,
	`expires` integer NOT NULL,
	`used_at` text,
	FOREIGN KEY (`user_id`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `invitation_user` ON `invitation` (`user_id`);--> statement-breakpoint
CREATE TABLE `role` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`rights` text NOT NULL,
	`notices` text NOT NULL,
	`everything` integer DEFAULT false NOT NULL,
	`version` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `role_name_unique` ON `role` (`name`);--> statement-breakpoint
CREATE TABLE `user_role` (
	`user_id` integer NOT NULL,
	`role_id` integer NOT NULL,
	`warehouses` text,
	PRIMARY KEY(`user_id`, `role_id`),
	FOREIGN KEY (`user_id`) REFERENCES `user`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`role_id`) REFERENCES `role`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `user_role_role` ON `user_role` (`role_id`);--> statement-breakpoint
ALTER TABLE `session` ADD `user_id` integer;--> statement-breakpoint
ALTER TABLE `user` ADD `email` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `user` ADD `version` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Administrator', '["catalogue.see","catalogue.edit","stores.see","stores.adjust","stores.release","selling.see","selling.edit","selling.confirm","selling.price","selling.exceed","planning.see","planning.run","planning.release","production.see","production.edit","production.report","buying.see","buying.edit","buying.approve","buying.receive","dispatch.see","dispatch.ship","accounts.see","accounts.invoice","accounts.pay","accounts.close","files.attach","bulk.import","setup.see","setup.edit","setup.people","setup.audit"]', '["keeping","other"]', 1 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Manager', '["catalogue.see","catalogue.edit","stores.see","stores.adjust","stores.release","selling.see","selling.edit","selling.confirm","selling.price","selling.exceed","planning.see","planning.run","planning.release","production.see","production.edit","production.report","buying.see","buying.edit","buying.approve","buying.receive","dispatch.see","dispatch.ship","accounts.see","accounts.invoice","accounts.pay","accounts.close","files.attach","bulk.import","setup.see"]', '["finished","arrived","shipped","onItsWay","lotBlocked","lotChanged","released","promise","keeping","other"]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Sales', '["catalogue.see","stores.see","stores.release","selling.see","selling.edit","selling.confirm","planning.see","production.see","buying.see","dispatch.see","accounts.see","accounts.invoice","files.attach"]', '["finished","arrived","shipped","lotBlocked","lotChanged","released","promise"]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Buyer', '["catalogue.see","catalogue.edit","stores.see","selling.see","planning.see","planning.run","planning.release","production.see","buying.see","buying.edit","buying.approve","buying.receive","dispatch.see","accounts.see","files.attach","bulk.import"]', '["arrived","keeping","other"]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Planner', '["catalogue.see","stores.see","stores.release","selling.see","planning.see","planning.run","planning.release","production.see","production.edit","buying.see","dispatch.see","accounts.see","files.attach"]', '["finished","arrived","keeping"]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Engineer', '["catalogue.see","catalogue.edit","stores.see","selling.see","planning.see","production.see","buying.see","dispatch.see","accounts.see","files.attach","bulk.import"]', '[]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Production lead', '["catalogue.see","stores.see","stores.release","selling.see","planning.see","production.see","production.edit","production.report","buying.see","dispatch.see","accounts.see","files.attach"]', '["finished","arrived","onItsWay"]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Operator', '["catalogue.see","stores.see","selling.see","planning.see","production.see","production.report","buying.see","dispatch.see","accounts.see","files.attach"]', '[]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Storekeeper', '["catalogue.see","stores.see","stores.adjust","stores.release","selling.see","planning.see","production.see","production.report","buying.see","buying.receive","dispatch.see","dispatch.ship","accounts.see","files.attach"]', '["finished","stockAskedFor","onItsWay","lotBlocked","lotChanged"]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Packer', '["catalogue.see","stores.see","selling.see","planning.see","production.see","buying.see","dispatch.see","dispatch.ship","accounts.see","files.attach"]', '[]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Quality', '["catalogue.see","stores.see","stores.adjust","selling.see","planning.see","production.see","buying.see","dispatch.see","accounts.see","files.attach"]', '["arrived","lotBlocked","lotChanged"]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Accounts', '["catalogue.see","stores.see","selling.see","planning.see","production.see","buying.see","dispatch.see","accounts.see","accounts.invoice","accounts.pay","accounts.close","files.attach"]', '["shipped"]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `role` (`name`, `rights`, `notices`, `everything`) SELECT 'Viewer', '["catalogue.see","stores.see","selling.see","planning.see","production.see","buying.see","dispatch.see","accounts.see"]', '[]', 0 WHERE EXISTS (SELECT 1 FROM `user`);--> statement-breakpoint
INSERT INTO `user_role` (`user_id`, `role_id`) SELECT `user`.`id`, `role`.`id` FROM `user`, `role` WHERE `user`.`role` = 'administrator' AND `role`.`name` = 'Administrator';--> statement-breakpoint
INSERT INTO `user_role` (`user_id`, `role_id`) SELECT `user`.`id`, `role`.`id` FROM `user`, `role` WHERE `user`.`role` = 'manager' AND `role`.`name` = 'Manager';--> statement-breakpoint
INSERT INTO `user_role` (`user_id`, `role_id`) SELECT `user`.`id`, `role`.`id` FROM `user`, `role` WHERE `user`.`role` = 'sales' AND `role`.`name` = 'Sales';--> statement-breakpoint
INSERT INTO `user_role` (`user_id`, `role_id`) SELECT `user`.`id`, `role`.`id` FROM `user`, `role` WHERE `user`.`role` = 'buyer' AND `role`.`name` = 'Buyer';--> statement-breakpoint
INSERT INTO `user_role` (`user_id`, `role_id`) SELECT `user`.`id`, `role`.`id` FROM `user`, `role` WHERE `user`.`role` = 'storekeeper' AND `role`.`name` = 'Storekeeper';--> statement-breakpoint
INSERT INTO `user_role` (`user_id`, `role_id`) SELECT `user`.`id`, `role`.`id` FROM `user`, `role` WHERE `user`.`role` = 'viewer' AND `role`.`name` = 'Viewer';--> statement-breakpoint
DELETE FROM `session`;
