-- Gear is supplies, chargers and leads; this table holds the supplies.
ALTER TABLE gear RENAME TO supplies;
ALTER INDEX gear_listed RENAME TO supplies_listed;
