DROP INDEX packs_tags;
DROP TRIGGER pack_told ON packs;
DROP TRIGGER run_told ON runs;
DROP TABLE standings, records;
DROP FUNCTION pack_changed;
DROP FUNCTION record_changed;
