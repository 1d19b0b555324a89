import type { QueryInterface } from 'sequelize';

export interface Migration {
  name: string;
  up(run: { context: QueryInterface }): Promise<unknown>;
  down(run: { context: QueryInterface }): Promise<unknown>;
}

const sql = (q: QueryInterface, text: string): Promise<unknown> => q.sequelize.query(text);

/** In order; a migration that has landed is never changed, a new one is added. */
export const migrations: Migration[] = [
  {
    name: '0001-works',
    up: ({ context }) =>
      sql(
        context,
        `CREATE TABLE blobs (sha256 char(64) PRIMARY KEY, size integer NOT NULL CHECK (size >= 0));
         CREATE TABLE blob_chunks (
           sha256 char(64) NOT NULL REFERENCES blobs ON DELETE CASCADE,
           seq integer NOT NULL,
           bytes bytea NOT NULL,
           PRIMARY KEY (sha256, seq));
         ALTER TABLE blob_chunks ALTER COLUMN bytes SET STORAGE EXTERNAL;
         CREATE TABLE works (
           id uuid PRIMARY KEY,
           name text NOT NULL,
           sha256 char(64) NOT NULL REFERENCES blobs,
           opened jsonb NOT NULL,
           frames jsonb NOT NULL,
           revision integer NOT NULL DEFAULT 1,
           demo boolean NOT NULL DEFAULT false,
           created_at timestamptz NOT NULL,
           updated_at timestamptz NOT NULL);
         CREATE INDEX works_sha256 ON works (sha256);
         CREATE TABLE work_versions (
           id uuid PRIMARY KEY,
           work_id uuid NOT NULL REFERENCES works ON DELETE CASCADE,
           reason text NOT NULL CHECK (reason IN ('stale', 'replaced')),
           revision integer NOT NULL,
           frames jsonb NOT NULL,
           created_at timestamptz NOT NULL);
         CREATE INDEX work_versions_work ON work_versions (work_id, created_at);
         CREATE TABLE settings (key text PRIMARY KEY, value text NOT NULL);`,
      ),
    down: ({ context }) => sql(context, 'DROP TABLE work_versions, works, blob_chunks, blobs, settings'),
  },
  {
    name: '0002-pictures-and-deeds',
    up: ({ context }) =>
      sql(
        context,
        `ALTER TABLE works ALTER COLUMN sha256 DROP NOT NULL;
         ALTER TABLE works ADD COLUMN done integer NOT NULL DEFAULT 0;
         CREATE TABLE pictures (
           sha256 char(64) PRIMARY KEY REFERENCES blobs,
           name text NOT NULL,
           words text NOT NULL DEFAULT '',
           kind text NOT NULL CHECK (kind IN ('own', 'stock', 'hidden')),
           type text NOT NULL,
           width integer NOT NULL CHECK (width > 0),
           height integer NOT NULL CHECK (height > 0),
           orientation integer NOT NULL,
           used_at timestamptz NOT NULL);
         CREATE INDEX pictures_used ON pictures (used_at DESC);
         CREATE TABLE silhouettes (
           id uuid PRIMARY KEY,
           name text NOT NULL,
           shape jsonb NOT NULL,
           created_at timestamptz NOT NULL);
         CREATE TABLE deeds (
           work_id uuid NOT NULL REFERENCES works ON DELETE CASCADE,
           seq integer NOT NULL CHECK (seq >= 0),
           deed jsonb NOT NULL,
           PRIMARY KEY (work_id, seq));`,
      ),
    down: ({ context }) =>
      sql(
        context,
        `DROP TABLE deeds, silhouettes, pictures;
         ALTER TABLE works DROP COLUMN done;
         DELETE FROM works WHERE sha256 IS NULL;
         ALTER TABLE works ALTER COLUMN sha256 SET NOT NULL;`,
      ),
  },
  {
    name: '0003-finishes',
    up: ({ context }) =>
      sql(
        context,
        `CREATE TABLE finishes (id text PRIMARY KEY, finish jsonb);
         ALTER TABLE works ADD COLUMN marks jsonb NOT NULL DEFAULT '{}';`,
      ),
    down: ({ context }) => sql(context, 'DROP TABLE finishes; ALTER TABLE works DROP COLUMN marks'),
  },
  {
    name: '0004-errands',
    up: ({ context }) =>
      sql(
        context,
        `CREATE TABLE errands (
           id uuid PRIMARY KEY,
           work_id uuid NOT NULL REFERENCES works ON DELETE CASCADE,
           sha256 char(64) REFERENCES blobs,
           name text NOT NULL,
           revision integer NOT NULL,
           wish jsonb NOT NULL,
           state text NOT NULL DEFAULT 'waiting'
             CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled')),
           done integer NOT NULL DEFAULT 0,
           total integer NOT NULL,
           tries integer NOT NULL DEFAULT 0,
           server uuid,
           heard_at timestamptz,
           made char(64) REFERENCES blobs,
           size integer,
           problem jsonb,
           created_at timestamptz NOT NULL,
           updated_at timestamptz NOT NULL);
         CREATE INDEX errands_open ON errands (created_at) WHERE state IN ('waiting', 'running');
         CREATE INDEX errands_work ON errands (work_id, created_at);`,
      ),
    down: ({ context }) => sql(context, 'DROP TABLE errands'),
  },
  {
    name: '0005-errands-said',
    up: ({ context }) => sql(context, 'ALTER TABLE errands ADD COLUMN said text'),
    down: ({ context }) => sql(context, 'ALTER TABLE errands DROP COLUMN said'),
  },
];
