CREATE TABLE `rule_sets` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`rules` text NOT NULL,
	`chosen` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `rule_sets_name_unique` ON `rule_sets` (`name`);