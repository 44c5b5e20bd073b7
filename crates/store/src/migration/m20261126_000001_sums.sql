-- Of a run's readings what they come to, so that a long log is understood from all of them. They follow
-- from the readings and the run's plan: where that changes they are made anew.

CREATE TABLE run_sums (
    run_id   uuid PRIMARY KEY REFERENCES runs (id) ON DELETE CASCADE,
    readings integer NOT NULL CHECK (readings >= 0),
    document jsonb NOT NULL CHECK (jsonb_typeof(document) = 'object')
);

CREATE FUNCTION run_replanned() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM run_sums WHERE run_id = NEW.id;
    RETURN NULL;
END $$;

CREATE TRIGGER run_replanned AFTER UPDATE OF document ON runs
    FOR EACH ROW WHEN (OLD.document -> 'plan' IS DISTINCT FROM NEW.document -> 'plan')
    EXECUTE FUNCTION run_replanned();
