import { foreignKey, index, integer, primaryKey, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';

/** Everything the shop keeps. Times are UTC in ISO 8601; JSON columns hold the published formats. */
export const settings = sqliteTable('settings', {
  key: text('key').primaryKey(),
  value: text('value', { mode: 'json' }).notNull(),
});

export const anatomyRevisions = sqliteTable(
  'anatomy_revisions',
  {
    anatomy: text('anatomy').notNull(),
    revision: integer('revision').notNull(),
    document: text('document', { mode: 'json' }).notNull(),
    createdAt: text('created_at').notNull(),
    by: text('by'),
    /** What changed since the revision before, in words. */
    changes: text('changes', { mode: 'json' }),
  },
  (table) => [primaryKey({ columns: [table.anatomy, table.revision] })],
);

/** What the shop says of a device, beside its revisions. */
export const deviceMarks = sqliteTable('device_marks', {
  anatomy: text('anatomy').primaryKey(),
  archived: integer('archived', { mode: 'boolean' }).notNull(),
  /** Whose bundle it came in, and when; `null` for one that was drawn here. */
  origin: text('origin', { mode: 'json' }),
  /** No dive on it has been signed off here yet. */
  untried: integer('untried', { mode: 'boolean' }).notNull(),
});

/** Anatomies that are being drawn. */
export const drafts = sqliteTable('drafts', {
  id: text('id').primaryKey(),
  /** The revision it goes on from; `null` for a new device. */
  base: text('base', { mode: 'json' }),
  document: text('document', { mode: 'json' }).notNull(),
  /** Counted up by every edit. */
  version: integer('version').notNull(),
  by: text('by').notNull(),
  createdAt: text('created_at').notNull(),
  changedAt: text('changed_at').notNull(),
});

/** Every edit of a draft, in the order in which they were taken in. */
export const draftEdits = sqliteTable(
  'draft_edits',
  {
    draft: text('draft')
      .notNull()
      .references(() => drafts.id, { onDelete: 'cascade' }),
    version: integer('version').notNull(),
    id: text('id').notNull().unique(),
    by: text('by').notNull(),
    at: text('at').notNull(),
    edit: text('edit', { mode: 'json' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.draft, table.version] })],
);

/** Photographs straightened to millimetres: of a device or its draft, one face, one depth. */
export const plates = sqliteTable(
  'plates',
  {
    id: text('id').primaryKey(),
    /** The id of the device, also while it is a draft. */
    device: text('device').notNull(),
    face: text('face', { enum: ['front', 'back'] }).notNull(),
    /** Layers that are off in it. */
    layer: integer('layer').notNull(),
    /** mm below the plane that was measured. */
    depth: real('depth').notNull(),
    photo: text('photo')
      .notNull()
      .references(() => photos.hash),
    plate: text('plate')
      .notNull()
      .references(() => photos.hash),
    pxPerMm: real('px_per_mm').notNull(),
    /** How it was measured: lines or points, camera, errors. */
    survey: text('survey', { mode: 'json' }).notNull(),
    /** Somebody has looked at it for personal things; only then may it leave the shop. */
    reviewed: text('reviewed'),
    by: text('by').notNull(),
    createdAt: text('created_at').notNull(),
  },
  (table) => [index('plates_device').on(table.device)],
);

/** The people whose devices are repaired. Of one who was erased only the id is left. */
export const customers = sqliteTable('customers', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  /** Telephone or mail, as it was written down. */
  contact: text('contact').notNull(),
  createdAt: text('created_at').notNull(),
  erasedAt: text('erased_at'),
});

/** Numbers by which a device is known again. */
export const identities = sqliteTable(
  'identities',
  {
    job: text('job')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    number: text('number').notNull(),
  },
  (table) => [primaryKey({ columns: [table.job, table.number] }), index('identities_number').on(table.number)],
);

/**
 * An intake that was begun and not finished; one that became a job, or was let go of, stays as an empty line, so that what
 * was still on its way cannot begin it again.
 */
export const intakeDrafts = sqliteTable('intake_drafts', {
  id: text('id').primaryKey(),
  by: text('by').notNull(),
  document: text('document', { mode: 'json' }).notNull(),
  changedAt: text('changed_at').notNull(),
  ended: integer('ended', { mode: 'boolean' }).notNull().default(false),
});

/** Strokes of a pen, apart from what they are under, so that they can be erased. */
export const signatures = sqliteTable('signatures', {
  id: text('id').primaryKey(),
  job: text('job')
    .notNull()
    .references(() => jobs.id, { onDelete: 'cascade' }),
  strokes: text('strokes', { mode: 'json' }).notNull(),
  at: text('at').notNull(),
});

/** Parts out of other devices. */
export const donors = sqliteTable('donors', {
  id: text('id').primaryKey(),
  document: text('document', { mode: 'json' }).notNull(),
  revision: integer('revision').notNull(),
});

/** The shop's own spares, counted, and which jobs have spoken for them. */
export const shelf = sqliteTable(
  'shelf',
  {
    id: text('id').primaryKey(),
    anatomy: text('anatomy').notNull(),
    spare: text('spare').notNull(),
    price: text('price').notNull(),
    count: integer('count').notNull(),
    revision: integer('revision').notNull().default(1),
  },
  (table) => [uniqueIndex('shelf_spare').on(table.anatomy, table.spare)],
);
export const reservations = sqliteTable(
  'reservations',
  {
    job: text('job')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    spare: text('spare')
      .notNull()
      .references(() => shelf.id, { onDelete: 'cascade' }),
  },
  (table) => [primaryKey({ columns: [table.job, table.spare] })],
);

/** What a signed job has taught: times, and what was found guilty. */
export const lessons = sqliteTable('lessons', {
  job: text('job').primaryKey(),
  planned: real('planned').notNull(),
  taken: real('taken').notNull(),
  cases: text('cases', { mode: 'json' }).notNull(),
});

export const jobs = sqliteTable(
  'jobs',
  {
    id: text('id').primaryKey(),
    number: integer('number').notNull().unique(),
    anatomy: text('anatomy').notNull(),
    /** The revision the job was planned on; it keeps it. */
    revision: integer('revision').notNull(),
    customer: text('customer').notNull(),
    complaint: text('complaint').notNull(),
    outside: text('outside').notNull(),
    crackedGlass: integer('cracked_glass', { mode: 'boolean' }).notNull(),
    /** What the triage found that forbids opening; empty when it may be opened. */
    triage: text('triage', { mode: 'json' }).notNull(),
    /** The plan it was taken in with; what came after stands in the events. */
    plan: text('plan', { mode: 'json' }),
    createdAt: text('created_at').notNull(),
    /** What a device is that stands in no list; `null` for one that has an anatomy. */
    device: text('device', { mode: 'json' }),
    /** Its line in the list of jobs, and the event up to which it is told. */
    summary: text('summary', { mode: 'json' }),
    summarySeq: integer('summary_seq'),
    /** Named by the sender, so that a double press makes one job. */
    key: text('key').unique(),
    /** Whose it is. */
    customerId: text('customer_id').references(() => customers.id),
    /** The job before it on the same device, where it came back. */
    earlier: text('earlier'),
    /** The code that unlocks the device, sealed with the shop's key; erased at hand-over. */
    unlock: text('unlock'),
    /** What the device is worth repaired, as somebody has said. */
    worth: text('worth'),
  },
  (table) => [
    foreignKey({
      columns: [table.anatomy, table.revision],
      foreignColumns: [anatomyRevisions.anatomy, anatomyRevisions.revision],
    }),
  ],
);

export const events = sqliteTable(
  'events',
  {
    job: text('job')
      .notNull()
      .references(() => jobs.id),
    seq: integer('seq').notNull(),
    id: text('id').notNull().unique(),
    at: text('at').notNull(),
    by: text('by').notNull(),
    type: text('type').notNull(),
    body: text('body', { mode: 'json' }).notNull(),
    /** Version of the plan that it was made against. */
    version: integer('version').notNull().default(0),
    /** Seconds that the sender's clock was ahead, where that is more than a moment. */
    skew: real('skew'),
    /** SHA-256 of all the rest, by which damage on the disk is seen; see `events.ts`. */
    hash: text('hash'),
  },
  (table) => [primaryKey({ columns: [table.job, table.seq] })],
);

export const photos = sqliteTable(
  'photos',
  {
    hash: text('hash').primaryKey(),
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    bytes: integer('bytes').notNull(),
    createdAt: text('created_at').notNull(),
    /** SHA-256 of its small picture; `null` for one of before, which is not looked at. */
    thumb: text('thumb'),
  },
  (table) => [index('photos_created').on(table.createdAt)],
);

/** Which jobs show a photograph; one that nothing names any more goes. */
export const photoUses = sqliteTable(
  'photo_uses',
  {
    hash: text('hash').notNull(),
    job: text('job')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
  },
  (table) => [primaryKey({ columns: [table.hash, table.job] }), index('photo_uses_job').on(table.job)],
);

/** Named sets of house rules; exactly one is the shop's choice for new jobs. */
export const ruleSets = sqliteTable('rule_sets', {
  id: text('id').primaryKey(),
  name: text('name').notNull().unique(),
  rules: text('rules', { mode: 'json' }).notNull(),
  chosen: integer('chosen', { mode: 'boolean' }).notNull(),
  /** Counted up by every change, so that nobody overwrites what another changed meanwhile. */
  revision: integer('revision').notNull().default(1),
});

export const technicians = sqliteTable('technicians', {
  id: text('id').primaryKey(),
  name: text('name').notNull().unique(),
  role: text('role', { enum: ['lead', 'technician'] }).notNull(),
  /** scrypt: salt and hash; `null` while none is set. */
  pin: text('pin'),
  active: integer('active', { mode: 'boolean' }).notNull(),
  createdAt: text('created_at').notNull(),
});

/** What is left of a job that was deleted. */
export const deletedJobs = sqliteTable('deleted_jobs', {
  id: text('id').primaryKey(),
  number: integer('number').notNull(),
  reason: text('reason').notNull(),
  by: text('by').notNull(),
  at: text('at').notNull(),
});

/** The shop's small stock of screws; a row for each kind, counted. Lengths in mm. */
export const stock = sqliteTable(
  'stock',
  {
    id: text('id').primaryKey(),
    kind: text('kind').notNull(),
    drive: text('drive').notNull(),
    length: real('length').notNull(),
    thread: real('thread').notNull(),
    head: real('head').notNull(),
    magnetic: integer('magnetic', { mode: 'boolean' }).notNull(),
    count: integer('count').notNull(),
    revision: integer('revision').notNull().default(1),
  },
  (table) => [
    uniqueIndex('stock_kind').on(table.kind, table.drive, table.length, table.thread, table.head, table.magnetic),
  ],
);

/** Every cell that lies in the shop, and where it went. Nothing of a customer stands here. */
export const cells = sqliteTable(
  'cells',
  {
    id: text('id').primaryKey(),
    /** The job it came from, and which part of the device it was; `null` for one that was entered by hand. */
    job: text('job'),
    part: text('part'),
    label: text('label').notNull(),
    volts: real('volts').notNull(),
    milliampHours: real('milliamp_hours').notNull(),
    cells: integer('cells').notNull(),
    damaged: integer('damaged', { mode: 'boolean' }).notNull(),
    state: text('state', { enum: ['stored', 'boxed', 'collected', 'sent'] }).notNull(),
    /** %, where it was read. */
    charge: real('charge'),
    box: text('box').notNull(),
    /** Who took it, where it is gone. */
    gone: text('gone').notNull().default(''),
    by: text('by').notNull(),
    createdAt: text('created_at').notNull(),
    changedAt: text('changed_at').notNull(),
    revision: integer('revision').notNull().default(1),
  },
  (table) => [uniqueIndex('cells_of_job').on(table.job, table.part)],
);
