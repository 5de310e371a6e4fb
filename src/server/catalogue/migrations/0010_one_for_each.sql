CREATE TABLE `run_item` (
	`run` text NOT NULL,
	`place` integer NOT NULL,
	`item` text NOT NULL,
	`state` text NOT NULL,
	`rows` integer,
	`pages` integer,
	`totals` text,
	`files` text,
	`error` text,
	PRIMARY KEY(`run`, `place`)
);
