-- What is known of a pack besides its runs: capacity tests, rest readings, notes. What all of that comes to is kept,
-- and made anew where something it follows from has changed.

CREATE TABLE records (
    id           uuid PRIMARY KEY,
    version      integer NOT NULL DEFAULT 1 CHECK (version > 0),
    document     jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    format       text GENERATED ALWAYS AS (document ->> 'format') STORED NOT NULL CHECK (format = 'rumek.record/1'),
    kind         text GENERATED ALWAYS AS (document ->> 'kind') STORED NOT NULL,
    pack_id      uuid REFERENCES packs (id) ON DELETE CASCADE,
    pack_version integer CHECK (pack_version IS NULL OR pack_version > 0),
    archived_at  timestamptz,
    created_at   timestamptz NOT NULL DEFAULT now(),
    updated_at   timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT a_record_is_about_a_pack CHECK (pack_id IS NOT NULL)
);

CREATE INDEX records_listed ON records (archived_at, updated_at DESC);
CREATE INDEX records_pack ON records (pack_id);

-- rank, due, health, soc and used are what the shelf is sorted by; tags what it is grouped by.
CREATE TABLE standings (
    pack_id     uuid PRIMARY KEY REFERENCES packs (id) ON DELETE CASCADE,
    document    jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object'),
    rank        smallint NOT NULL,
    due         timestamptz,
    health      double precision,
    used        timestamptz,
    holds_until timestamptz NOT NULL
);

CREATE INDEX standings_needs ON standings (rank, due);
CREATE INDEX standings_hold ON standings (holds_until);

CREATE FUNCTION record_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP <> 'INSERT' THEN
        DELETE FROM standings WHERE pack_id = OLD.pack_id;
    END IF;
    IF TG_OP <> 'DELETE' THEN
        DELETE FROM standings WHERE pack_id = NEW.pack_id;
    END IF;
    RETURN NULL;
END $$;

CREATE FUNCTION pack_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM standings WHERE pack_id = NEW.id;
    RETURN NULL;
END $$;

CREATE TRIGGER record_changed AFTER INSERT OR UPDATE OR DELETE ON records FOR EACH ROW EXECUTE FUNCTION record_changed();
CREATE TRIGGER run_told AFTER INSERT OR UPDATE OR DELETE ON runs FOR EACH ROW EXECUTE FUNCTION record_changed();
CREATE TRIGGER pack_told AFTER UPDATE OF document ON packs FOR EACH ROW EXECUTE FUNCTION pack_changed();
CREATE TRIGGER changed AFTER INSERT OR UPDATE OR DELETE ON records FOR EACH STATEMENT EXECUTE FUNCTION shelf_changed();

CREATE INDEX packs_tags ON packs USING gin ((document -> 'tags'));
