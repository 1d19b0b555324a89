import type { QueryInterface } from 'sequelize';
import { toEntries } from './to-entries';

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
  {
    name: '0006-owners-and-summaries',
    up: ({ context }) =>
      sql(
        context,
        `CREATE TABLE blob_refs (
           sha256 char(64) NOT NULL REFERENCES blobs,
           kind text NOT NULL CHECK (kind IN ('work', 'picture', 'errand')),
           owner text NOT NULL,
           PRIMARY KEY (kind, owner, sha256));
         CREATE INDEX blob_refs_blob ON blob_refs (sha256);
         ALTER TABLE blob_refs DROP CONSTRAINT blob_refs_sha256_fkey,
           ADD FOREIGN KEY (sha256) REFERENCES blobs ON DELETE CASCADE;
         ALTER TABLE pictures DROP CONSTRAINT pictures_sha256_fkey,
           ADD FOREIGN KEY (sha256) REFERENCES blobs ON DELETE CASCADE;
         INSERT INTO blob_refs SELECT sha256, 'work', id::text FROM works WHERE sha256 IS NOT NULL;
         INSERT INTO blob_refs
           SELECT DISTINCT b.sha256, 'work', used.id::text
           FROM (
             SELECT id, jsonb_path_query(opened, '$.**.source.sha256') #>> '{}' AS digest FROM works
             UNION SELECT id, jsonb_path_query(frames, '$.**.source.sha256') #>> '{}' FROM works
             UNION SELECT work_id, jsonb_path_query(frames, '$.**.source.sha256') #>> '{}' FROM work_versions
             UNION SELECT work_id, jsonb_path_query(deed, '$.**.source.sha256') #>> '{}' FROM deeds
           ) used JOIN blobs b ON b.sha256 = used.digest
           ON CONFLICT DO NOTHING;
         INSERT INTO blob_refs SELECT sha256, 'picture', sha256 FROM pictures WHERE kind <> 'hidden';
         INSERT INTO blob_refs
           SELECT DISTINCT b.sha256, 'errand', used.id::text
           FROM (
             SELECT id, sha256::text AS digest FROM errands
             UNION SELECT id, made::text FROM errands
             UNION SELECT id, jsonb_path_query(wish, '$.**.sha256') #>> '{}' FROM errands
             UNION SELECT id, jsonb_path_query(wish, '$.**.ground') #>> '{}' FROM errands
           ) used JOIN blobs b ON b.sha256 = used.digest
           ON CONFLICT DO NOTHING;
         DELETE FROM blobs b WHERE NOT EXISTS (SELECT 1 FROM blob_refs r WHERE r.sha256 = b.sha256);
         ALTER TABLE works
           ADD COLUMN summary jsonb NOT NULL DEFAULT '{}',
           ADD COLUMN deleted_at timestamptz,
           ADD COLUMN was_in jsonb NOT NULL DEFAULT '[]';
         UPDATE works w SET summary = jsonb_strip_nulls(jsonb_build_object(
           'format', opened->'format',
           'pictures', jsonb_array_length(opened->'pictures'),
           'framed', (SELECT count(*) FROM jsonb_object_keys(frames)),
           'faces', (SELECT coalesce(jsonb_agg(n ORDER BY place), '[]') FROM (
             SELECT (p->>'n')::int AS n, row_number() OVER (ORDER BY (w.frames ? (p->>'n')) DESC, (p->>'n')::int) AS place
             FROM jsonb_array_elements(w.opened->'pictures') p
             WHERE jsonb_typeof(p->'problem') = 'null'
               AND ((p->'media'->>'drawable')::boolean IS TRUE OR p->'frame' ? 'source')
             LIMIT 4) faces),
           'members', opened->'members'));
         CREATE INDEX works_shelf ON works (updated_at DESC, id DESC) WHERE deleted_at IS NULL;
         CREATE INDEX works_deleted ON works (deleted_at) WHERE deleted_at IS NOT NULL;
         CREATE INDEX works_folders ON works (id) WHERE summary->>'format' = 'folder';`,
      ),
    down: ({ context }) =>
      sql(
        context,
        `DROP TABLE blob_refs;
         ALTER TABLE works DROP COLUMN summary, DROP COLUMN deleted_at, DROP COLUMN was_in;`,
      ),
  },
  {
    name: '0007-entries',
    up: ({ context }) => toEntries(context),
    down: () => Promise.reject(new Error('Entries cannot become deeds again: restore the backup made before.')),
  },
  {
    name: '0008-jobs',
    up: ({ context }) =>
      sql(
        context,
        `ALTER TABLE errands RENAME TO jobs;
         ALTER INDEX errands_open RENAME TO jobs_open;
         ALTER INDEX errands_work RENAME TO jobs_work;
         ALTER TABLE blob_refs DROP CONSTRAINT blob_refs_kind_check;
         UPDATE blob_refs SET kind = 'job' WHERE kind = 'errand';
         ALTER TABLE blob_refs ADD CONSTRAINT blob_refs_kind_check CHECK (kind IN ('work', 'picture', 'job'));
         CREATE FUNCTION notify_jobs() RETURNS trigger LANGUAGE plpgsql AS
           $$ BEGIN PERFORM pg_notify('jobs', NEW.id || ' ' || NEW.state); RETURN NEW; END $$;
         CREATE TRIGGER jobs_changed AFTER INSERT OR UPDATE ON jobs FOR EACH ROW EXECUTE FUNCTION notify_jobs();`,
      ),
    down: ({ context }) =>
      sql(
        context,
        `DROP TRIGGER jobs_changed ON jobs;
         DROP FUNCTION notify_jobs;
         ALTER TABLE blob_refs DROP CONSTRAINT blob_refs_kind_check;
         UPDATE blob_refs SET kind = 'errand' WHERE kind = 'job';
         ALTER TABLE blob_refs ADD CONSTRAINT blob_refs_kind_check CHECK (kind IN ('work', 'picture', 'errand'));
         ALTER TABLE jobs RENAME TO errands;`,
      ),
  },
  {
    name: '0009-page-items',
    up: ({ context }) =>
      // What was a rough preview of a page becomes one item that is shown and not edited, behind the page's pictures.
      sql(
        context,
        `UPDATE works SET opened = jsonb_set(opened, '{sheets}', (
           SELECT coalesce(jsonb_agg((s - 'pieces') || jsonb_build_object('items', jsonb_build_array(jsonb_build_object(
             'kind', 'foreign', 'id', 'preview' || place, 'what', 'other',
             'at', jsonb_build_object('on', 'page', 'box', jsonb_build_object(
               'x', 0, 'y', 0, 'width', s->'width', 'height', s->'height')),
             'turn', 0, 'flip', '{"horizontal": false, "vertical": false}'::jsonb, 'opacity', 1, 'alt', '',
             'preview', s->'pieces'))) ORDER BY place), '[]')
           FROM jsonb_array_elements(opened->'sheets') WITH ORDINALITY sheets(s, place)))
         WHERE jsonb_typeof(opened->'sheets') = 'array' AND jsonb_path_exists(opened, '$.sheets[*].pieces')`,
      ),
    down: ({ context }) =>
      sql(
        context,
        `UPDATE works SET opened = jsonb_set(opened, '{sheets}', (
           SELECT coalesce(jsonb_agg((s - 'items' - 'layers') || '{"pieces": []}'::jsonb ORDER BY place), '[]')
           FROM jsonb_array_elements(opened->'sheets') WITH ORDINALITY sheets(s, place)))
         WHERE jsonb_typeof(opened->'sheets') = 'array'`,
      ),
  },
  {
    name: '0010-jobs-by-changes',
    up: ({ context }) =>
      // What waits to be handed over was planned as frames, which no release makes files of any more.
      sql(
        context,
        `UPDATE jobs SET state = 'failed', problem =
           '{"code": "gave-up", "title": "Gable was renewed while this waited.", "remedy": "Ask for it again."}'
         WHERE state IN ('waiting', 'running') AND wish->>'kind' IN ('folder', 'hand-over');
         ALTER TABLE jobs RENAME COLUMN tries TO attempts`,
      ),
    down: ({ context }) => sql(context, 'ALTER TABLE jobs RENAME COLUMN attempts TO tries'),
  },
  {
    name: '0011-drawn-pages',
    up: ({ context }) =>
      // A drawing's page says itself that it is drawn behind its pictures.
      sql(
        context,
        `UPDATE works SET opened = jsonb_set(opened, '{sheets}', (
           SELECT coalesce(jsonb_agg(s || '{"backdrop": true, "drawn": true}' ORDER BY place), '[]')
           FROM jsonb_array_elements(opened->'sheets') WITH ORDINALITY sheets(s, place)))
         WHERE opened->>'format' = 'svg' AND jsonb_typeof(opened->'sheets') = 'array'`,
      ),
    down: ({ context }) =>
      sql(
        context,
        `UPDATE works SET opened = jsonb_set(opened, '{sheets}', (
           SELECT coalesce(jsonb_agg(s - 'backdrop' - 'drawn' ORDER BY place), '[]')
           FROM jsonb_array_elements(opened->'sheets') WITH ORDINALITY sheets(s, place)))
         WHERE opened->>'format' = 'svg' AND jsonb_typeof(opened->'sheets') = 'array'`,
      ),
  },
  {
    name: '0012-palettes',
    up: ({ context }) =>
      sql(
        context,
        `CREATE TABLE palettes (
           id uuid PRIMARY KEY,
           palette jsonb NOT NULL,
           created_at timestamptz NOT NULL
         )`,
      ),
    down: ({ context }) => sql(context, 'DROP TABLE palettes'),
  },
  {
    name: '0013-pages-on-the-shelf',
    up: ({ context }) =>
      sql(
        context,
        `UPDATE works SET summary = summary || jsonb_build_object('sheetCount',
           CASE WHEN jsonb_typeof(opened->'sheets') = 'array' THEN jsonb_array_length(opened->'sheets') ELSE 0 END)`,
      ),
    down: ({ context }) => sql(context, `UPDATE works SET summary = summary - 'sheetCount'`),
  },
  {
    name: '0014-picture-facts',
    up: ({ context }) =>
      sql(
        context,
        `CREATE TABLE picture_facts (
           content text PRIMARY KEY,
           version integer NOT NULL,
           facts jsonb NOT NULL
         )`,
      ),
    down: ({ context }) => sql(context, 'DROP TABLE picture_facts'),
  },
  {
    name: '0015-several-facts-and-marks',
    up: ({ context }) =>
      // A file's frames had one keep mark at the most, and have a list.
      sql(
        context,
        `ALTER TABLE picture_facts ADD COLUMN kind text NOT NULL DEFAULT 'faces';
         ALTER TABLE picture_facts DROP CONSTRAINT picture_facts_pkey, ADD PRIMARY KEY (content, kind);
         ALTER TABLE picture_facts ALTER COLUMN kind DROP DEFAULT;
         UPDATE works SET opened = jsonb_set(opened, '{pictures}', (
           SELECT jsonb_agg(CASE WHEN jsonb_typeof(p->'frame'->'keep') = 'object'
               THEN jsonb_set(p, '{frame,keep}', jsonb_build_array(p->'frame'->'keep')) ELSE p END ORDER BY place)
           FROM jsonb_array_elements(opened->'pictures') WITH ORDINALITY pictures(p, place)))
         WHERE jsonb_path_exists(opened, '$.pictures[*].frame.keep ? (@.type() == "object")')`,
      ),
    down: ({ context }) =>
      sql(
        context,
        `DELETE FROM picture_facts WHERE kind <> 'faces';
         ALTER TABLE picture_facts DROP CONSTRAINT picture_facts_pkey, ADD PRIMARY KEY (content);
         ALTER TABLE picture_facts DROP COLUMN kind;
         UPDATE works SET opened = jsonb_set(opened, '{pictures}', (
           SELECT jsonb_agg(CASE WHEN jsonb_typeof(p->'frame'->'keep') = 'array'
               THEN jsonb_set(p, '{frame,keep}', p->'frame'->'keep'->0) ELSE p END ORDER BY place)
           FROM jsonb_array_elements(opened->'pictures') WITH ORDINALITY pictures(p, place)))
         WHERE jsonb_path_exists(opened, '$.pictures[*].frame.keep ? (@.type() == "array")')`,
      ),
  },
  {
    name: '0016-pictures-put-in',
    up: ({ context }) => sql(context, 'ALTER TABLE works ADD COLUMN origin jsonb'),
    down: ({ context }) => sql(context, 'ALTER TABLE works DROP COLUMN origin'),
  },
  {
    name: '0017-works-from-nothing',
    up: ({ context }) => sql(context, 'ALTER TABLE works ADD COLUMN begun text'),
    down: ({ context }) => sql(context, 'ALTER TABLE works DROP COLUMN begun'),
  },
  {
    name: '0018-fonts',
    up: ({ context }) =>
      sql(
        context,
        `CREATE TABLE fonts (
           id uuid PRIMARY KEY,
           sha256 char(64) NOT NULL UNIQUE REFERENCES blobs,
           facts jsonb NOT NULL,
           created_at timestamptz NOT NULL
         );
         ALTER TABLE blob_refs DROP CONSTRAINT blob_refs_kind_check;
         ALTER TABLE blob_refs ADD CONSTRAINT blob_refs_kind_check CHECK (kind IN ('work', 'picture', 'job', 'font'));`,
      ),
    down: ({ context }) =>
      sql(
        context,
        `DELETE FROM blob_refs WHERE kind = 'font';
         ALTER TABLE blob_refs DROP CONSTRAINT blob_refs_kind_check;
         ALTER TABLE blob_refs ADD CONSTRAINT blob_refs_kind_check CHECK (kind IN ('work', 'picture', 'job'));
         DROP TABLE fonts`,
      ),
  },
  {
    name: '0019-videos',
    up: ({ context }) => sql(context, 'ALTER TABLE pictures ADD COLUMN video jsonb'),
    down: ({ context }) => sql(context, 'ALTER TABLE pictures DROP COLUMN video'),
  },
];
