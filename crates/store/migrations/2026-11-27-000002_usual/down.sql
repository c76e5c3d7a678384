ALTER TABLE player_standing DROP COLUMN usual;
