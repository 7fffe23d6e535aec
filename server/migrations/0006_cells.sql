CREATE TABLE `cells` (
	`id` text PRIMARY KEY NOT NULL,
	`job` text,
	`part` text,
	`label` text NOT NULL,
	`volts` real NOT NULL,
	`milliamp_hours` real NOT NULL,
	`cells` integer NOT NULL,
	`damaged` integer NOT NULL,
	`state` text NOT NULL,
	`charge` real,
	`box` text NOT NULL,
	`gone` text DEFAULT '' NOT NULL,
	`by` text NOT NULL,
	`created_at` text NOT NULL,
	`changed_at` text NOT NULL,
	`revision` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `cells_of_job` ON `cells` (`job`,`part`);