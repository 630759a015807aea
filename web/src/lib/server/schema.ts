/** The tables. Ids are made by the application, so that any number of servers can write. */
import {
  customType,
  datetime,
  index,
  int,
  mediumtext,
  mysqlTable,
  primaryKey,
  uniqueIndex,
  varchar
} from 'drizzle-orm/mysql-core';
import type { LinkKind, Role, SharedRight, TokenRight } from '../rights.ts';
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
    deletedAt: moment('deleted_at'),
    /** The person whose flow it is; null where it was made without accounts. */
    owner: id('owner'),
    /** Where it was taken from the shared shelf: from which flow of whom. */
    source: small<Source>()('source')
  },
  (table) => [index('flows_changed').on(table.deletedAt, table.changedAt), index('flows_owner').on(table.owner)]
);

/** What a flow that was taken from the shared shelf was made from. */
export interface Source {
  show: string;
  name: string;
  by: string;
  revision: number;
}

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

/** Those who have an account. One whose access has ended stays here, so that the name in the history is nobody else's. */
export const people = mysqlTable(
  'people',
  {
    id: id('id').primaryKey(),
    name: varchar('name', { length: 80 }).notNull(),
    /** The name as it is compared: two that look alike are one. */
    nameKey: varchar('name_key', { length: 160 }).notNull(),
    role: varchar('role', { length: 10 }).$type<Role>().notNull(),
    /** Argon2id, in PHC form; null for those who sign in elsewhere only. */
    password: varchar('password', { length: 200 }),
    /** Issuer and subject of OpenID Connect. */
    subject: varchar('subject', { length: 500 }),
    createdAt: moment('created_at').notNull(),
    seenAt: moment('seen_at'),
    endedAt: moment('ended_at')
  },
  (table) => [uniqueIndex('people_name').on(table.nameKey), uniqueIndex('people_subject').on(table.subject)]
);

/** A hash of a secret that was given out once; the secret itself is kept nowhere. */
const secret = (name: string) => varchar(name, { length: 64 });

/** Browsers that are signed in, by the hash of what their cookie holds. */
export const signIns = mysqlTable(
  'sign_ins',
  {
    hash: secret('hash').primaryKey(),
    person: id('person').notNull(),
    agent: varchar('agent', { length: 200 }).notNull(),
    createdAt: moment('created_at').notNull(),
    usedAt: moment('used_at').notNull(),
    endsAt: moment('ends_at').notNull()
  },
  (table) => [index('sign_ins_person').on(table.person), index('sign_ins_ends').on(table.endsAt)]
);

/** Attempts to sign in that failed, by the hash of an account's name or of an address. */
export const attempts = mysqlTable('attempts', {
  hash: secret('hash').primaryKey(),
  failed: int('failed').notNull(),
  since: moment('since').notNull()
});

/** Links that are given out: to an account, or to a flow without one. */
export const links = mysqlTable(
  'links',
  {
    id: id('id').primaryKey(),
    hash: secret('hash').notNull(),
    kind: varchar('kind', { length: 10 }).$type<LinkKind>().notNull(),
    /** Of an invitation. */
    role: varchar('role', { length: 10 }).$type<Role>(),
    /** Whose password may be set again. */
    person: id('person'),
    /** Of a link to a flow. */
    flowId: id('flow_id'),
    note: varchar('note', { length: 80 }).notNull(),
    madeBy: id('made_by'),
    createdAt: moment('created_at').notNull(),
    endsAt: moment('ends_at').notNull(),
    /** When it was used up or taken back. */
    endedAt: moment('ended_at')
  },
  (table) => [uniqueIndex('links_hash').on(table.hash), index('links_flow').on(table.flowId), index('links_kind').on(table.kind)]
);

/** What others than its owner may do with a flow; the person `house` stands for everybody who has an account. */
export const grants = mysqlTable(
  'grants',
  {
    flowId: id('flow_id').notNull(),
    person: id('person').notNull(),
    may: varchar('may', { length: 10 }).$type<SharedRight>().notNull()
  },
  (table) => [primaryKey({ columns: [table.flowId, table.person] }), index('grants_person').on(table.person)]
);

/** Keys of programs, which act for a person. */
export const tokens = mysqlTable(
  'tokens',
  {
    id: id('id').primaryKey(),
    hash: secret('hash').notNull(),
    person: id('person').notNull(),
    name: varchar('name', { length: 80 }).notNull(),
    may: varchar('may', { length: 10 }).$type<TokenRight>().notNull(),
    /** The only flow that it opens; null for all of the person's. */
    flowId: id('flow_id'),
    createdAt: moment('created_at').notNull(),
    usedAt: moment('used_at'),
    endsAt: moment('ends_at').notNull()
  },
  (table) => [uniqueIndex('tokens_hash').on(table.hash), index('tokens_person').on(table.person)]
);

/** What was done that others may have to know of later. */
export const audit = mysqlTable(
  'audit',
  {
    /** Begins with the time, so that lines stand in order. */
    id: id('id').primaryKey(),
    at: moment('at').notNull(),
    person: id('person'),
    name: varchar('name', { length: 80 }).notNull(),
    act: varchar('act', { length: 40 }).notNull(),
    flowId: id('flow_id'),
    detail: varchar('detail', { length: 300 }).notNull(),
    address: varchar('address', { length: 64 }).notNull()
  },
  (table) => [index('audit_flow').on(table.flowId)]
);

/** The shared shelf: revisions of flows that were put on show. What is shown stays, whatever becomes of the flow. */
export const shows = mysqlTable(
  'shows',
  {
    id: id('id').primaryKey(),
    flowId: id('flow_id').notNull(),
    revision: int('revision').notNull(),
    name: varchar('name', { length: 80 }).notNull(),
    summary: varchar('summary', { length: 600 }).notNull(),
    authors: varchar('authors', { length: 300 }).notNull(),
    by: id('shown_by'),
    /** The level whose plan is its picture; null for the lane. */
    pictureOf: varchar('picture_of', { length: 40 }),
    places: int('places').notNull(),
    levels: int('levels').notNull(),
    verdict: small<Summary>()('verdict'),
    played: int('played').notNull(),
    shownAt: moment('shown_at').notNull(),
    /** Newer revisions of the same flow take its place on the shelf; it stays to be looked at. */
    replacedAt: moment('replaced_at')
  },
  (table) => [
    uniqueIndex('shows_revision').on(table.flowId, table.revision),
    index('shows_date').on(table.replacedAt, table.shownAt),
    index('shows_name').on(table.replacedAt, table.name),
    index('shows_size').on(table.replacedAt, table.places),
    index('shows_played').on(table.replacedAt, table.played)
  ]
);

export const showTags = mysqlTable(
  'show_tags',
  { show: id('show_id').notNull(), tag: varchar('tag', { length: 30 }).notNull() },
  (table) => [primaryKey({ columns: [table.show, table.tag] }), index('show_tags_tag').on(table.tag)]
);

/** What is large of a show, apart from what the shelf looks through. */
export const showFiles = mysqlTable('show_files', {
  show: id('show_id').primaryKey(),
  document: jsonText('document').notNull(),
  /** The lane, or the plan of a level, as SVG. */
  picture: mediumtext('picture').notNull(),
  /** What the checks said of it, as gzipped JSON, once they have. */
  report: bytes('report')
});
