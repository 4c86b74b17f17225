ALTER TABLE `customer_order` ADD `lost_net` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
-- What was lost as a whole was worth its net; of what was ordered in part, the share of what was not.
UPDATE `customer_order` SET `lost_net` = `books_net` WHERE `kind` = 'quote' AND `state` = 'lost';--> statement-breakpoint
UPDATE `customer_order` SET `lost_net` = coalesce((
  SELECT cast(round(`customer_order`.`books_net` * sum(1.0 * (`quantity` - `cancelled` - `ordered`) * `price`) / nullif(sum(1.0 * (`quantity` - `cancelled`) * `price`), 0)) AS integer)
  FROM `customer_order_line` WHERE `order_id` = `customer_order`.`id`
), 0) WHERE `kind` = 'quote' AND `state` = 'won' AND `lost_reason` <> '';
