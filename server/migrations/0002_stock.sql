CREATE TABLE `stock` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`drive` text NOT NULL,
	`length` real NOT NULL,
	`thread` real NOT NULL,
	`head` real NOT NULL,
	`magnetic` integer NOT NULL,
	`count` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `stock_kind` ON `stock` (`kind`,`drive`,`length`,`thread`,`head`,`magnetic`);