DROP INDEX player_without_consent;
ALTER TABLE player_standing DROP COLUMN heads;
ALTER TABLE player_standing
    ADD heads jsonb GENERATED ALWAYS AS (flag_heads(told)) STORED;
