CREATE TABLE `presence` (
	`flow_id` varchar(36) NOT NULL,
	`client` varchar(36) NOT NULL,
	`name` varchar(80) NOT NULL,
	`place` varchar(40),
	`at` datetime(3) NOT NULL,
	CONSTRAINT `presence_flow_id_client_pk` PRIMARY KEY(`flow_id`,`client`)
);
