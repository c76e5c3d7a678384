ALTER TABLE player_link DROP COLUMN page_id;
DROP TABLE page;
