-- Packs, gear and plans: each a document as it was given, with generated columns for what is asked of it.

CREATE TABLE packs (
    id          uuid PRIMARY KEY,
    version     integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document    jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    name        text GENERATED ALWAYS AS (document ->> 'name') STORED CHECK (name IS NULL OR length(name) <= 120),
    chemistry   text GENERATED ALWAYS AS (document ->> 'chemistry') STORED NOT NULL,
    series      integer GENERATED ALWAYS AS ((document ->> 'series')::integer) STORED CHECK (series IS NULL OR series BETWEEN 1 AND 200),
    capacity_ah double precision GENERATED ALWAYS AS ((document ->> 'capacity_ah')::double precision) STORED CHECK (capacity_ah IS NULL OR capacity_ah > 0),
    archived_at timestamptz,
    created_at  timestamptz NOT NULL DEFAULT now(),
    updated_at  timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE gear (
    id          uuid PRIMARY KEY,
    version     integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document    jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    name        text GENERATED ALWAYS AS (document ->> 'name') STORED CHECK (name IS NULL OR length(name) <= 120),
    kind        text GENERATED ALWAYS AS (document ->> 'kind') STORED NOT NULL,
    archived_at timestamptz,
    created_at  timestamptz NOT NULL DEFAULT now(),
    updated_at  timestamptz NOT NULL DEFAULT now()
);

-- A saved plan is complete in itself; the links only say where its values came from.
CREATE TABLE plans (
    id             uuid PRIMARY KEY,
    version        integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document       jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    name           text GENERATED ALWAYS AS (document ->> 'name') STORED CHECK (name IS NULL OR length(name) <= 120),
    format         text GENERATED ALWAYS AS (document ->> 'format') STORED NOT NULL CHECK (format = 'rumek.plan/1'),
    pack_id        uuid REFERENCES packs (id) ON DELETE SET NULL,
    pack_version   integer CHECK (pack_version IS NULL OR pack_version > 0),
    source_id      uuid REFERENCES gear (id) ON DELETE SET NULL,
    source_version integer CHECK (source_version IS NULL OR source_version > 0),
    archived_at    timestamptz,
    created_at     timestamptz NOT NULL DEFAULT now(),
    updated_at     timestamptz NOT NULL DEFAULT now()
);

CREATE INDEX packs_listed ON packs (archived_at, updated_at DESC);
CREATE INDEX gear_listed ON gear (archived_at, updated_at DESC);
CREATE INDEX plans_listed ON plans (archived_at, updated_at DESC);
CREATE INDEX plans_pack ON plans (pack_id);
CREATE INDEX plans_source ON plans (source_id);
