/** The tables. Ids are made by the application, so that any number of servers can write. */
import { customType, datetime, index, int, mysqlTable, primaryKey, uniqueIndex, varchar } from 'drizzle-orm/mysql-core';
import type { Summary } from '../summary.ts';

const id = (name: string) => varchar(name, { length: 36 });
/** JSON as the text it is kept as: documents and patches are mostly passed on, and to parse large ones would halt everybody. */
const jsonText = customType<{ data: string; driverData: string | Buffer }>({
  dataType: () => 'json',
  // the driver escapes a text letter by letter, and writes bytes out at once
  toDriver: (text) => (text.length > 50_000 ? Buffer.from(text) : text)
});
const small = <T>() =>
  customType<{ data: T; driverData: string }>({
    dataType: () => 'json',
    toDriver: (value) => JSON.stringify(value),
    fromDriver: (text) => JSON.parse(text) as T
  });
const bytes = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'longblob' });
const moment = (name: string) => datetime(name, { mode: 'date', fsp: 3 });

export const flows = mysqlTable(
  'flows',
  {
    id: id('id').primaryKey(),
    name: varchar('name', { length: 80 }).notNull(),
    revision: int('revision').notNull(),
    document: jsonText('document').notNull(),
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
    patch: jsonText('patch').notNull(),
    inverse: jsonText('inverse').notNull(),
    at: moment('at').notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId, table.number] }), uniqueIndex('revisions_edit').on(table.flowId, table.editId)]
);

/** The document as it was at every so many revisions, so that any one is made again from few patches. */
export const snapshots = mysqlTable(
  'snapshots',
  {
    flowId: id('flow_id').notNull(),
    number: int('number').notNull(),
    document: jsonText('document').notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId, table.number] })]
);

export const verdicts = mysqlTable(
  'verdicts',
  {
    flowId: id('flow_id').notNull(),
    revision: int('revision').notNull(),
    summary: small<Summary>()('summary').notNull(),
    at: moment('at').notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId] })]
);

/** What the server's checks said of a revision, as gzipped JSON; routes of what holds are left out. */
export const reports = mysqlTable(
  'reports',
  {
    flowId: id('flow_id').notNull(),
    revision: int('revision').notNull(),
    /** How many states could be looked at. */
    limit: int('state_limit').notNull(),
    report: bytes('report').notNull(),
    at: moment('at').notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId, table.revision] })]
);

export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';

/** Checks that are asked of the servers: any of them takes one, and any can tell of it. */
export const jobs = mysqlTable(
  'jobs',
  {
    id: id('id').primaryKey(),
    flowId: id('flow_id').notNull(),
    revision: int('revision').notNull(),
    limit: int('state_limit').notNull(),
    /** Of the flow: small ones come first. */
    places: int('places').notNull(),
    state: varchar('state', { length: 10 }).$type<JobState>().notNull(),
    askedAt: moment('asked_at').notNull(),
    /** The server that runs it, and when it last said so: one that is silent has gone, and the check is begun again. */
    server: varchar('server', { length: 36 }),
    beatAt: moment('beat_at'),
    tries: int('tries').notNull(),
    /** How far it is. */
    states: int('states').notNull(),
    waiting: int('waiting').notNull(),
    /** Why it failed. */
    problem: varchar('problem', { length: 300 }),
    endedAt: moment('ended_at')
  },
  (table) => [index('jobs_state').on(table.state, table.askedAt), index('jobs_flow').on(table.flowId, table.state)]
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
