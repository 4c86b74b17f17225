CREATE INDEX `balance_serial` ON `balance` (`item_id`,`serial`) WHERE "balance"."serial" <> '';--> statement-breakpoint
CREATE INDEX `lot_spelling` ON `lot` (`item_id`,"code" collate nocase);--> statement-breakpoint
CREATE INDEX `serial_number_spelling` ON `serial_number` (`item_id`,"code" collate nocase);