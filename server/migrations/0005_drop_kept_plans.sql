DROP TABLE `plan_exception`;--> statement-breakpoint
DROP TABLE `plan_peg`;--> statement-breakpoint
DROP TABLE `plan_problem`;--> statement-breakpoint
DROP TABLE `plan_suggestion`;--> statement-breakpoint
DROP TABLE `plan_run`;
