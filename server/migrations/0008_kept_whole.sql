CREATE TABLE `photo_uses` (
	`hash` text NOT NULL,
	`job` text NOT NULL,
	PRIMARY KEY(`hash`, `job`),
	FOREIGN KEY (`job`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `photo_uses_job` ON `photo_uses` (`job`);--> statement-breakpoint
ALTER TABLE `events` ADD `hash` text;--> statement-breakpoint
ALTER TABLE `photos` ADD `thumb` text;--> statement-breakpoint
INSERT OR IGNORE INTO `photo_uses` SELECT DISTINCT named.value, events.job FROM events, json_tree(events.body) AS named
	WHERE events.body LIKE '%"photo":"%' AND named.key = 'photo' AND named.type = 'text'
	AND events.job NOT IN (SELECT jobs.id FROM jobs JOIN customers ON customers.id = jobs.customer_id WHERE customers.erased_at IS NOT NULL);
