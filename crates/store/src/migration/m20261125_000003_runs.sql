-- Charges as they happened: the frozen plan, and every reading by itself.

CREATE TABLE runs (
    id           uuid PRIMARY KEY,
    version      integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document     jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    name         text GENERATED ALWAYS AS (document ->> 'name') STORED CHECK (name IS NULL OR length(name) <= 120),
    format       text GENERATED ALWAYS AS (document ->> 'format') STORED NOT NULL CHECK (format = 'rumek.run/1'),
    ended        boolean GENERATED ALWAYS AS (document ->> 'ended_at' IS NOT NULL) STORED NOT NULL,
    pack_id      uuid REFERENCES packs (id) ON DELETE SET NULL,
    pack_version integer CHECK (pack_version IS NULL OR pack_version > 0),
    archived_at  timestamptz,
    created_at   timestamptz NOT NULL DEFAULT now(),
    updated_at   timestamptz NOT NULL DEFAULT now()
);

-- client_id: made by whoever took the reading, so that sending it twice keeps it once.
CREATE TABLE run_readings (
    run_id          uuid NOT NULL REFERENCES runs (id) ON DELETE CASCADE,
    n               integer NOT NULL CHECK (n > 0),
    client_id       uuid UNIQUE,
    taken_at        timestamptz NOT NULL,
    received_at     timestamptz NOT NULL DEFAULT now(),
    clock_offset_ms bigint NOT NULL DEFAULT 0,
    document        jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    PRIMARY KEY (run_id, n)
);

CREATE INDEX runs_listed ON runs (archived_at, updated_at DESC);
CREATE INDEX runs_pack ON runs (pack_id);
