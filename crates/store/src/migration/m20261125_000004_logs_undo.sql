DROP TRIGGER changed ON packs;
DROP TRIGGER changed ON gear;
DROP TRIGGER changed ON chargers;
DROP TRIGGER changed ON leads;
DROP TRIGGER changed ON plans;
DROP TRIGGER changed ON rescues;
DROP TRIGGER changed ON runs;
DROP TRIGGER run_removed ON runs;
DROP TRIGGER reading_added ON run_readings;
DROP TABLE log_mappings, run_overviews;
DROP FUNCTION shelf_changed, run_removed, reading_added;
DROP INDEX runs_began, run_readings_client_id;
ALTER TABLE run_readings
    ADD CONSTRAINT run_readings_client_id_key UNIQUE (client_id),
    ADD CONSTRAINT run_readings_run_id_fkey FOREIGN KEY (run_id) REFERENCES runs (id) ON DELETE CASCADE;
