CREATE OR REPLACE FUNCTION record_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP <> 'INSERT' THEN
        DELETE FROM standings WHERE pack_id = OLD.pack_id;
    END IF;
    IF TG_OP <> 'DELETE' THEN
        DELETE FROM standings WHERE pack_id = NEW.pack_id;
    END IF;
    RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION pack_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM standings WHERE pack_id = NEW.id;
    RETURN NULL;
END $$;

DROP FUNCTION pack_known;
DROP TRIGGER pack_added ON packs;
DROP FUNCTION pack_added;
DROP TABLE pack_knowledge;
