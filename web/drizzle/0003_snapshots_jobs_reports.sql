CREATE TABLE `jobs` (
	`id` varchar(36) NOT NULL,
	`flow_id` varchar(36) NOT NULL,
	`revision` int NOT NULL,
	`state_limit` int NOT NULL,
	`places` int NOT NULL,
	`state` varchar(10) NOT NULL,
	`asked_at` datetime(3) NOT NULL,
	`server` varchar(36),
	`beat_at` datetime(3),
	`tries` int NOT NULL,
	`states` int NOT NULL,
	`waiting` int NOT NULL,
	`problem` varchar(300),
	`ended_at` datetime(3),
	CONSTRAINT `jobs_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `snapshots` (
	`flow_id` varchar(36) NOT NULL,
	`number` int NOT NULL,
	`document` json NOT NULL,
	CONSTRAINT `snapshots_flow_id_number_pk` PRIMARY KEY(`flow_id`,`number`)
);
--> statement-breakpoint
-- what was found can be found again, and is kept in another form from now on
DELETE FROM `reports`;--> statement-breakpoint
ALTER TABLE `reports` MODIFY COLUMN `report` longblob NOT NULL;--> statement-breakpoint
CREATE INDEX `jobs_state` ON `jobs` (`state`,`asked_at`);--> statement-breakpoint
CREATE INDEX `jobs_flow` ON `jobs` (`flow_id`,`state`);