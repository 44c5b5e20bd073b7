-- A typed reading may be taken back: it is kept, and counted no more.

ALTER TABLE run_readings ADD COLUMN struck_at timestamptz,
    ADD CONSTRAINT only_typed_ones_are_struck CHECK (struck_at IS NULL OR client_id IS NOT NULL);

CREATE FUNCTION reading_struck() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM run_sums WHERE run_id = NEW.run_id;
    PERFORM pg_notify('rumek_changes', 'readings ' || NEW.run_id);
    RETURN NULL;
END $$;

CREATE TRIGGER reading_struck AFTER UPDATE OF struck_at ON run_readings
    FOR EACH ROW EXECUTE FUNCTION reading_struck();
