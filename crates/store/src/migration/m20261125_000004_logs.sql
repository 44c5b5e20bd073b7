-- Logs of other instruments: how each kind of file is read, and what long ones are drawn from.
-- Every change is announced in the transaction that makes it.

CREATE TABLE log_mappings (
    id          uuid PRIMARY KEY,
    version     integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document    jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    name        text GENERATED ALWAYS AS (document ->> 'name') STORED CHECK (name IS NULL OR length(name) <= 120),
    format      text GENERATED ALWAYS AS (document ->> 'format') STORED NOT NULL CHECK (format = 'rumek.log-mapping/1'),
    header      jsonb GENERATED ALWAYS AS (document -> 'header') STORED,
    archived_at timestamptz,
    created_at  timestamptz NOT NULL DEFAULT now(),
    updated_at  timestamptz NOT NULL DEFAULT now()
);

CREATE INDEX log_mappings_listed ON log_mappings (archived_at, updated_at DESC);

-- Of a long log, the readings that each level keeps; level 0 is the finest.
CREATE TABLE run_overviews (
    run_id uuid NOT NULL REFERENCES runs (id) ON DELETE CASCADE,
    level  smallint NOT NULL CHECK (level >= 0),
    n      integer NOT NULL CHECK (n > 0),
    PRIMARY KEY (run_id, level, n)
);

CREATE INDEX runs_began ON runs ((document ->> 'started_at') DESC);

-- A log of a million lines has no client ids: they need not stand in an index.
ALTER TABLE run_readings DROP CONSTRAINT run_readings_client_id_key;
CREATE UNIQUE INDEX run_readings_client_id ON run_readings (client_id) WHERE client_id IS NOT NULL;

-- The foreign key asked for its run once a row, half of the time a log takes. The lines of a run are
-- numbered from 1 without gaps, so it is enough to ask at the first, and at each that is sent alone.
ALTER TABLE run_readings DROP CONSTRAINT run_readings_run_id_fkey;

CREATE FUNCTION reading_added() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM 1 FROM runs WHERE id = NEW.run_id FOR KEY SHARE;
    IF NOT FOUND THEN
        RAISE foreign_key_violation USING MESSAGE = 'there is no run ' || NEW.run_id;
    END IF;
    PERFORM pg_notify('rumek_changes', 'readings ' || NEW.run_id);
    RETURN NULL;
END $$;

CREATE TRIGGER reading_added AFTER INSERT ON run_readings
    FOR EACH ROW WHEN (NEW.client_id IS NOT NULL OR NEW.n = 1) EXECUTE FUNCTION reading_added();

CREATE FUNCTION run_removed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM run_readings WHERE run_id = OLD.id;
    RETURN NULL;
END $$;

CREATE TRIGGER run_removed AFTER DELETE ON runs FOR EACH ROW EXECUTE FUNCTION run_removed();

CREATE FUNCTION shelf_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('rumek_changes', TG_TABLE_NAME);
    RETURN NULL;
END $$;

CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON packs FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();
CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON gear FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();
CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON chargers FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();
CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON leads FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();
CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON plans FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();
CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON rescues FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();
CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON runs FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();
CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON log_mappings FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();
