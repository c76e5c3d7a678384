DROP TRIGGER height_is_dated ON player;
DROP FUNCTION date_height;
ALTER TABLE player DROP COLUMN height_on;
DROP TABLE player_group_member;
DROP TABLE player_group;
