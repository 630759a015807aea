/** The tables. Ids are made by the application, so that any number of servers can write. */
import { datetime, index, int, json, mysqlTable, primaryKey, uniqueIndex, varchar } from 'drizzle-orm/mysql-core';
import type { Report } from '@crow-lane/core/check/report';
import type { Patch } from '@crow-lane/core/document/patch';
import type { FlowDocument } from '@crow-lane/core/document/types';
import type { Summary } from '../summary.ts';

const id = (name: string) => varchar(name, { length: 36 });
const moment = (name: string) => datetime(name, { mode: 'date', fsp: 3 });

export const flows = mysqlTable(
  'flows',
  {
    id: id('id').primaryKey(),
    name: varchar('name', { length: 80 }).notNull(),
    revision: int('revision').notNull(),
    document: json('document').$type<FlowDocument>().notNull(),
    places: int('places').notNull(),
    levels: int('levels').notNull(),
    createdAt: moment('created_at').notNull(),
    changedAt: moment('changed_at').notNull(),
    /** Deleted flows stay until they are purged, so that deleting can be undone. */
    deletedAt: moment('deleted_at')
  },
  (table) => [index('flows_changed').on(table.deletedAt, table.changedAt)]
);

/** What a revision did: an edit of the author's, or the undoing or redoing of one. */
export type RevisionKind = 'edit' | 'undo' | 'redo';

export const revisions = mysqlTable(
  'revisions',
  {
    flowId: id('flow_id').notNull(),
    number: int('number').notNull(),
    /** Made by the sender, so that an edit sent twice is kept once. */
    editId: id('edit_id').notNull(),
    kind: varchar('kind', { length: 8 }).$type<RevisionKind>().notNull(),
    label: varchar('label', { length: 300 }).notNull(),
    author: varchar('author', { length: 80 }).notNull(),
    patch: json('patch').$type<Patch>().notNull(),
    inverse: json('inverse').$type<Patch>().notNull(),
    at: moment('at').notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId, table.number] }), uniqueIndex('revisions_edit').on(table.flowId, table.editId)]
);

export const verdicts = mysqlTable(
  'verdicts',
  {
    flowId: id('flow_id').notNull(),
    revision: int('revision').notNull(),
    summary: json('summary').$type<Summary>().notNull(),
    at: moment('at').notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId] })]
);

/** What the server's checks said of a revision; routes of what holds are left out. */
export const reports = mysqlTable(
  'reports',
  {
    flowId: id('flow_id').notNull(),
    revision: int('revision').notNull(),
    /** How many states could be looked at. */
    limit: int('state_limit').notNull(),
    report: json('report').$type<Report>().notNull(),
    at: moment('at').notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId, table.revision] })]
);

/** Who has a flow open, and which place they look at. A row that has not been renewed for a while means nothing. */
export const presence = mysqlTable(
  'presence',
  {
    flowId: id('flow_id').notNull(),
    /** One open page. */
    client: id('client').notNull(),
    name: varchar('name', { length: 80 }).notNull(),
    place: varchar('place', { length: 40 }),
    at: moment('at').notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId, table.client] })]
);
