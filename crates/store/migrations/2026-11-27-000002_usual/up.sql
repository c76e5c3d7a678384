-- What a player usually reaches, by club and value, when their sessions were read last: what
-- others of the school are held against. It may be dropped at any time, as all of the row.
ALTER TABLE player_standing ADD COLUMN usual jsonb NOT NULL DEFAULT '{}';
