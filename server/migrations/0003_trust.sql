CREATE TABLE `deleted_jobs` (
	`id` text PRIMARY KEY NOT NULL,
	`number` integer NOT NULL,
	`reason` text NOT NULL,
	`by` text NOT NULL,
	`at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `technicians` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`role` text NOT NULL,
	`pin` text,
	`active` integer NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `technicians_name_unique` ON `technicians` (`name`);--> statement-breakpoint
ALTER TABLE `events` ADD `version` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `events` ADD `skew` real;--> statement-breakpoint
ALTER TABLE `jobs` ADD `device` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `summary` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `summary_seq` integer;--> statement-breakpoint
ALTER TABLE `jobs` ADD `key` text;--> statement-breakpoint
CREATE UNIQUE INDEX `jobs_key_unique` ON `jobs` (`key`);--> statement-breakpoint
ALTER TABLE `rule_sets` ADD `revision` integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE `stock` ADD `revision` integer DEFAULT 1 NOT NULL;