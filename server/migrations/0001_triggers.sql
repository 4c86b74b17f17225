CREATE TRIGGER `stock_move_no_update` BEFORE UPDATE ON `stock_move` BEGIN SELECT RAISE(ABORT, 'stock_move is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `stock_move_no_delete` BEFORE DELETE ON `stock_move` BEGIN SELECT RAISE(ABORT, 'stock_move is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `journal_entry_no_update` BEFORE UPDATE ON `journal_entry` BEGIN SELECT RAISE(ABORT, 'journal_entry is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `journal_entry_no_delete` BEFORE DELETE ON `journal_entry` BEGIN SELECT RAISE(ABORT, 'journal_entry is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `journal_line_no_update` BEFORE UPDATE ON `journal_line` BEGIN SELECT RAISE(ABORT, 'journal_line is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `journal_line_no_delete` BEFORE DELETE ON `journal_line` BEGIN SELECT RAISE(ABORT, 'journal_line is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `history_no_update` BEFORE UPDATE ON `history` BEGIN SELECT RAISE(ABORT, 'history is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `history_no_delete` BEFORE DELETE ON `history` BEGIN SELECT RAISE(ABORT, 'history is append-only'); END;
--> statement-breakpoint
CREATE TRIGGER `reservation_inserted` AFTER INSERT ON `reservation` BEGIN INSERT INTO `reserved_stock` (`item_id`, `warehouse_id`, `quantity`) VALUES (NEW.item_id, NEW.warehouse_id, NEW.quantity) ON CONFLICT (`item_id`, `warehouse_id`) DO UPDATE SET `quantity` = `quantity` + NEW.quantity; END;
--> statement-breakpoint
CREATE TRIGGER `reservation_updated` AFTER UPDATE ON `reservation` BEGIN UPDATE `reserved_stock` SET `quantity` = `quantity` - OLD.quantity WHERE item_id = OLD.item_id and warehouse_id = OLD.warehouse_id; INSERT INTO `reserved_stock` (`item_id`, `warehouse_id`, `quantity`) VALUES (NEW.item_id, NEW.warehouse_id, NEW.quantity) ON CONFLICT (`item_id`, `warehouse_id`) DO UPDATE SET `quantity` = `quantity` + NEW.quantity; END;
--> statement-breakpoint
CREATE TRIGGER `reservation_deleted` AFTER DELETE ON `reservation` BEGIN UPDATE `reserved_stock` SET `quantity` = `quantity` - OLD.quantity WHERE item_id = OLD.item_id and warehouse_id = OLD.warehouse_id; END;
