CREATE TABLE `reports` (
	`flow_id` varchar(36) NOT NULL,
	`revision` int NOT NULL,
	`state_limit` int NOT NULL,
	`report` json NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `reports_flow_id_revision_pk` PRIMARY KEY(`flow_id`,`revision`)
);
