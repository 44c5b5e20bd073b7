-- Chargers and leads beside the supplies, and where a plan's own came from.

CREATE TABLE chargers (
    id          uuid PRIMARY KEY,
    version     integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document    jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    name        text GENERATED ALWAYS AS (document ->> 'name') STORED CHECK (name IS NULL OR length(name) <= 120),
    kind        text GENERATED ALWAYS AS (document ->> 'kind') STORED NOT NULL,
    archived_at timestamptz,
    created_at  timestamptz NOT NULL DEFAULT now(),
    updated_at  timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE leads (
    id          uuid PRIMARY KEY,
    version     integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document    jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    name        text GENERATED ALWAYS AS (document ->> 'name') STORED CHECK (name IS NULL OR length(name) <= 120),
    length_m    double precision GENERATED ALWAYS AS ((document ->> 'length_m')::double precision) STORED NOT NULL CHECK (length_m > 0),
    archived_at timestamptz,
    created_at  timestamptz NOT NULL DEFAULT now(),
    updated_at  timestamptz NOT NULL DEFAULT now()
);

ALTER TABLE plans
    ADD COLUMN charger_id      uuid REFERENCES chargers (id) ON DELETE SET NULL,
    ADD COLUMN charger_version integer CHECK (charger_version IS NULL OR charger_version > 0),
    ADD COLUMN input_id        uuid REFERENCES leads (id) ON DELETE SET NULL,
    ADD COLUMN input_version   integer CHECK (input_version IS NULL OR input_version > 0),
    ADD COLUMN output_id       uuid REFERENCES leads (id) ON DELETE SET NULL,
    ADD COLUMN output_version  integer CHECK (output_version IS NULL OR output_version > 0);

CREATE INDEX chargers_listed ON chargers (archived_at, updated_at DESC);
CREATE INDEX leads_listed ON leads (archived_at, updated_at DESC);
CREATE INDEX plans_charger ON plans (charger_id);
CREATE INDEX plans_input ON plans (input_id);
CREATE INDEX plans_output ON plans (output_id);
