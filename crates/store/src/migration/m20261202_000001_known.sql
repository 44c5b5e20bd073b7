-- How often what is known of a pack has changed. A standing is kept only if this number is still the one it was
-- worked out from.

CREATE TABLE pack_knowledge (
    pack_id uuid PRIMARY KEY REFERENCES packs (id) ON DELETE CASCADE,
    version bigint NOT NULL DEFAULT 1
);

INSERT INTO pack_knowledge (pack_id) SELECT id FROM packs;

CREATE FUNCTION pack_added() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO pack_knowledge (pack_id) VALUES (NEW.id);
    RETURN NULL;
END $$;

CREATE TRIGGER pack_added AFTER INSERT ON packs FOR EACH ROW EXECUTE FUNCTION pack_added();

-- The number is raised before the standing is deleted. Whoever keeps a standing holds a lock on the number, so this
-- waits for them, and then deletes what they kept.
CREATE FUNCTION pack_known(changed uuid) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
    UPDATE pack_knowledge SET version = version + 1 WHERE pack_id = changed;
    DELETE FROM standings WHERE pack_id = changed;
END $$;

CREATE OR REPLACE FUNCTION record_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP <> 'INSERT' THEN
        PERFORM pack_known(OLD.pack_id);
    END IF;
    IF TG_OP = 'INSERT' OR (TG_OP = 'UPDATE' AND NEW.pack_id IS DISTINCT FROM OLD.pack_id) THEN
        PERFORM pack_known(NEW.pack_id);
    END IF;
    RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION pack_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pack_known(NEW.id);
    RETURN NULL;
END $$;

-- Whatever stands there was kept without that number.
DELETE FROM standings;
