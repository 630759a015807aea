CREATE TABLE `flows` (
	`id` varchar(36) NOT NULL,
	`name` varchar(80) NOT NULL,
	`revision` int NOT NULL,
	`document` json NOT NULL,
	`places` int NOT NULL,
	`levels` int NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`changed_at` datetime(3) NOT NULL,
	`deleted_at` datetime(3),
	CONSTRAINT `flows_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `revisions` (
	`flow_id` varchar(36) NOT NULL,
	`number` int NOT NULL,
	`edit_id` varchar(36) NOT NULL,
	`kind` varchar(8) NOT NULL,
	`label` varchar(300) NOT NULL,
	`author` varchar(80) NOT NULL,
	`patch` json NOT NULL,
	`inverse` json NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `revisions_flow_id_number_pk` PRIMARY KEY(`flow_id`,`number`),
	CONSTRAINT `revisions_edit` UNIQUE(`flow_id`,`edit_id`)
);
--> statement-breakpoint
CREATE TABLE `verdicts` (
	`flow_id` varchar(36) NOT NULL,
	`revision` int NOT NULL,
	`summary` json NOT NULL,
	`at` datetime(3) NOT NULL,
	CONSTRAINT `verdicts_flow_id_pk` PRIMARY KEY(`flow_id`)
);
--> statement-breakpoint
CREATE INDEX `flows_changed` ON `flows` (`deleted_at`,`changed_at`);