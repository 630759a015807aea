CREATE TABLE `attempts` (
	`hash` varchar(64) NOT NULL,
	`failed` int NOT NULL,
	`since` datetime(3) NOT NULL,
	CONSTRAINT `attempts_hash` PRIMARY KEY(`hash`)
);
--> statement-breakpoint
CREATE TABLE `audit` (
	`id` varchar(36) NOT NULL,
	`at` datetime(3) NOT NULL,
	`person` varchar(36),
	`name` varchar(80) NOT NULL,
	`act` varchar(40) NOT NULL,
	`flow_id` varchar(36),
	`detail` varchar(300) NOT NULL,
	`address` varchar(64) NOT NULL,
	CONSTRAINT `audit_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `grants` (
	`flow_id` varchar(36) NOT NULL,
	`person` varchar(36) NOT NULL,
	`may` varchar(10) NOT NULL,
	CONSTRAINT `grants_flow_id_person_pk` PRIMARY KEY(`flow_id`,`person`)
);
--> statement-breakpoint
CREATE TABLE `links` (
	`id` varchar(36) NOT NULL,
	`hash` varchar(64) NOT NULL,
	`kind` varchar(10) NOT NULL,
	`role` varchar(10),
	`person` varchar(36),
	`flow_id` varchar(36),
	`note` varchar(80) NOT NULL,
	`made_by` varchar(36),
	`created_at` datetime(3) NOT NULL,
	`ends_at` datetime(3) NOT NULL,
	`ended_at` datetime(3),
	CONSTRAINT `links_id` PRIMARY KEY(`id`),
	CONSTRAINT `links_hash` UNIQUE(`hash`)
);
--> statement-breakpoint
CREATE TABLE `people` (
	`id` varchar(36) NOT NULL,
	`name` varchar(80) NOT NULL,
	`name_key` varchar(160) NOT NULL,
	`role` varchar(10) NOT NULL,
	`password` varchar(200),
	`subject` varchar(500),
	`created_at` datetime(3) NOT NULL,
	`seen_at` datetime(3),
	`ended_at` datetime(3),
	CONSTRAINT `people_id` PRIMARY KEY(`id`),
	CONSTRAINT `people_name` UNIQUE(`name_key`),
	CONSTRAINT `people_subject` UNIQUE(`subject`)
);
--> statement-breakpoint
CREATE TABLE `show_files` (
	`show_id` varchar(36) NOT NULL,
	`document` json NOT NULL,
	`picture` mediumtext NOT NULL,
	`report` longblob,
	CONSTRAINT `show_files_show_id` PRIMARY KEY(`show_id`)
);
--> statement-breakpoint
CREATE TABLE `show_tags` (
	`show_id` varchar(36) NOT NULL,
	`tag` varchar(30) NOT NULL,
	CONSTRAINT `show_tags_show_id_tag_pk` PRIMARY KEY(`show_id`,`tag`)
);
--> statement-breakpoint
CREATE TABLE `shows` (
	`id` varchar(36) NOT NULL,
	`flow_id` varchar(36) NOT NULL,
	`revision` int NOT NULL,
	`name` varchar(80) NOT NULL,
	`summary` varchar(600) NOT NULL,
	`authors` varchar(300) NOT NULL,
	`shown_by` varchar(36),
	`picture_of` varchar(40),
	`places` int NOT NULL,
	`levels` int NOT NULL,
	`verdict` json,
	`played` int NOT NULL,
	`shown_at` datetime(3) NOT NULL,
	`replaced_at` datetime(3),
	CONSTRAINT `shows_id` PRIMARY KEY(`id`),
	CONSTRAINT `shows_revision` UNIQUE(`flow_id`,`revision`)
);
--> statement-breakpoint
CREATE TABLE `sign_ins` (
	`hash` varchar(64) NOT NULL,
	`person` varchar(36) NOT NULL,
	`agent` varchar(200) NOT NULL,
	`created_at` datetime(3) NOT NULL,
	`used_at` datetime(3) NOT NULL,
	`ends_at` datetime(3) NOT NULL,
	CONSTRAINT `sign_ins_hash` PRIMARY KEY(`hash`)
);
--> statement-breakpoint
CREATE TABLE `tokens` (
	`id` varchar(36) NOT NULL,
	`hash` varchar(64) NOT NULL,
	`person` varchar(36) NOT NULL,
	`name` varchar(80) NOT NULL,
	`may` varchar(10) NOT NULL,
	`flow_id` varchar(36),
	`created_at` datetime(3) NOT NULL,
	`used_at` datetime(3),
	`ends_at` datetime(3) NOT NULL,
	CONSTRAINT `tokens_id` PRIMARY KEY(`id`),
	CONSTRAINT `tokens_hash` UNIQUE(`hash`)
);
--> statement-breakpoint
ALTER TABLE `flows` ADD `owner` varchar(36);--> statement-breakpoint
ALTER TABLE `flows` ADD `source` json;--> statement-breakpoint
CREATE INDEX `audit_flow` ON `audit` (`flow_id`);--> statement-breakpoint
CREATE INDEX `grants_person` ON `grants` (`person`);--> statement-breakpoint
CREATE INDEX `links_flow` ON `links` (`flow_id`);--> statement-breakpoint
CREATE INDEX `links_kind` ON `links` (`kind`);--> statement-breakpoint
CREATE INDEX `show_tags_tag` ON `show_tags` (`tag`);--> statement-breakpoint
CREATE INDEX `shows_date` ON `shows` (`replaced_at`,`shown_at`);--> statement-breakpoint
CREATE INDEX `shows_name` ON `shows` (`replaced_at`,`name`);--> statement-breakpoint
CREATE INDEX `shows_size` ON `shows` (`replaced_at`,`places`);--> statement-breakpoint
CREATE INDEX `shows_played` ON `shows` (`replaced_at`,`played`);--> statement-breakpoint
CREATE INDEX `sign_ins_person` ON `sign_ins` (`person`);--> statement-breakpoint
CREATE INDEX `sign_ins_ends` ON `sign_ins` (`ends_at`);--> statement-breakpoint
CREATE INDEX `tokens_person` ON `tokens` (`person`);--> statement-breakpoint
CREATE INDEX `flows_owner` ON `flows` (`owner`);