CREATE TABLE `device_marks` (
	`anatomy` text PRIMARY KEY NOT NULL,
	`archived` integer NOT NULL,
	`origin` text,
	`untried` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `draft_edits` (
	`draft` text NOT NULL,
	`version` integer NOT NULL,
	`id` text NOT NULL,
	`by` text NOT NULL,
	`at` text NOT NULL,
	`edit` text NOT NULL,
	PRIMARY KEY(`draft`, `version`),
	FOREIGN KEY (`draft`) REFERENCES `drafts`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `draft_edits_id_unique` ON `draft_edits` (`id`);--> statement-breakpoint
CREATE TABLE `drafts` (
	`id` text PRIMARY KEY NOT NULL,
	`base` text,
	`document` text NOT NULL,
	`version` integer NOT NULL,
	`by` text NOT NULL,
	`created_at` text NOT NULL,
	`changed_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `plates` (
	`id` text PRIMARY KEY NOT NULL,
	`device` text NOT NULL,
	`face` text NOT NULL,
	`layer` integer NOT NULL,
	`depth` real NOT NULL,
	`photo` text NOT NULL,
	`plate` text NOT NULL,
	`px_per_mm` real NOT NULL,
	`survey` text NOT NULL,
	`reviewed` text,
	`by` text NOT NULL,
	`created_at` text NOT NULL,
	FOREIGN KEY (`photo`) REFERENCES `photos`(`hash`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`plate`) REFERENCES `photos`(`hash`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `plates_device` ON `plates` (`device`);--> statement-breakpoint
ALTER TABLE `anatomy_revisions` ADD `by` text;--> statement-breakpoint
ALTER TABLE `anatomy_revisions` ADD `changes` text;