-- Packs in trouble: how each was found, what was read of it, how it ended.

CREATE TABLE rescues (
    id           uuid PRIMARY KEY,
    version      integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document     jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    name         text GENERATED ALWAYS AS (document ->> 'name') STORED CHECK (name IS NULL OR length(name) <= 120),
    format       text GENERATED ALWAYS AS (document ->> 'format') STORED NOT NULL CHECK (format = 'rumek.rescue-case/1'),
    outcome      text GENERATED ALWAYS AS (document ->> 'outcome') STORED,
    pack_id      uuid REFERENCES packs (id) ON DELETE SET NULL,
    pack_version integer CHECK (pack_version IS NULL OR pack_version > 0),
    archived_at  timestamptz,
    created_at   timestamptz NOT NULL DEFAULT now(),
    updated_at   timestamptz NOT NULL DEFAULT now()
);

CREATE INDEX rescues_listed ON rescues (archived_at, updated_at DESC);
CREATE INDEX rescues_pack ON rescues (pack_id);
