ALTER TABLE `production_order` ADD `cancelled` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `production_order` SET `cancelled` = `quantity` - `finished` WHERE `state` IN ('finished', 'settled', 'cancelled') AND `quantity` > `finished`;--> statement-breakpoint
UPDATE `production_component` SET `needed` = `issued` WHERE `order_id` IN (SELECT `id` FROM `production_order` WHERE `state` = 'finished' AND `cancelled` > 0);
