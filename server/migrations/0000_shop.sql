CREATE TABLE `anatomy_revisions` (
	`anatomy` text NOT NULL,
	`revision` integer NOT NULL,
	`document` text NOT NULL,
	`created_at` text NOT NULL,
	PRIMARY KEY(`anatomy`, `revision`)
);
--> statement-breakpoint
CREATE TABLE `events` (
	`job` text NOT NULL,
	`seq` integer NOT NULL,
	`id` text NOT NULL,
	`at` text NOT NULL,
	`by` text NOT NULL,
	`type` text NOT NULL,
	`body` text NOT NULL,
	PRIMARY KEY(`job`, `seq`),
	FOREIGN KEY (`job`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `events_id_unique` ON `events` (`id`);--> statement-breakpoint
CREATE TABLE `jobs` (
	`id` text PRIMARY KEY NOT NULL,
	`number` integer NOT NULL,
	`anatomy` text NOT NULL,
	`revision` integer NOT NULL,
	`customer` text NOT NULL,
	`complaint` text NOT NULL,
	`outside` text NOT NULL,
	`cracked_glass` integer NOT NULL,
	`triage` text NOT NULL,
	`plan` text,
	`created_at` text NOT NULL,
	FOREIGN KEY (`anatomy`,`revision`) REFERENCES `anatomy_revisions`(`anatomy`,`revision`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `jobs_number_unique` ON `jobs` (`number`);--> statement-breakpoint
CREATE TABLE `photos` (
	`hash` text PRIMARY KEY NOT NULL,
	`width` integer NOT NULL,
	`height` integer NOT NULL,
	`bytes` integer NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `photos_created` ON `photos` (`created_at`);--> statement-breakpoint
CREATE TABLE `settings` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
