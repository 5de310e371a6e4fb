CREATE TABLE `viewer_state` (
	`viewer` text NOT NULL,
	`object` text NOT NULL,
	`state` text NOT NULL,
	PRIMARY KEY(`viewer`, `object`)
);
