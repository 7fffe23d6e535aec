CREATE TABLE `customers` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`contact` text NOT NULL,
	`created_at` text NOT NULL,
	`erased_at` text
);
--> statement-breakpoint
CREATE TABLE `donors` (
	`id` text PRIMARY KEY NOT NULL,
	`document` text NOT NULL,
	`revision` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `identities` (
	`job` text NOT NULL,
	`number` text NOT NULL,
	PRIMARY KEY(`job`, `number`),
	FOREIGN KEY (`job`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `identities_number` ON `identities` (`number`);--> statement-breakpoint
CREATE TABLE `intake_drafts` (
	`id` text PRIMARY KEY NOT NULL,
	`by` text NOT NULL,
	`document` text NOT NULL,
	`changed_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `lessons` (
	`job` text PRIMARY KEY NOT NULL,
	`planned` real NOT NULL,
	`taken` real NOT NULL,
	`cases` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `reservations` (
	`job` text NOT NULL,
	`spare` text NOT NULL,
	PRIMARY KEY(`job`, `spare`),
	FOREIGN KEY (`job`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`spare`) REFERENCES `shelf`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `shelf` (
	`id` text PRIMARY KEY NOT NULL,
	`anatomy` text NOT NULL,
	`spare` text NOT NULL,
	`price` text NOT NULL,
	`count` integer NOT NULL,
	`revision` integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `shelf_spare` ON `shelf` (`anatomy`,`spare`);--> statement-breakpoint
CREATE TABLE `signatures` (
	`id` text PRIMARY KEY NOT NULL,
	`job` text NOT NULL,
	`strokes` text NOT NULL,
	`at` text NOT NULL,
	FOREIGN KEY (`job`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
ALTER TABLE `jobs` ADD `customer_id` text REFERENCES customers(id);--> statement-breakpoint
ALTER TABLE `jobs` ADD `earlier` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `unlock` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `worth` text;--> statement-breakpoint
INSERT INTO `customers` (`id`, `name`, `contact`, `created_at`) SELECT `id`, `customer`, '', `created_at` FROM `jobs`;--> statement-breakpoint
UPDATE `jobs` SET `customer_id` = `id`;
