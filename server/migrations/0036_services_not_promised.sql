-- Services and charges go along with the goods: nothing is promised of them.
UPDATE `customer_order_line` SET `promise_date` = NULL WHERE `item_id` IN (SELECT `id` FROM `item` WHERE `kind` IN ('service', 'charge'));
