DROP TABLE next_choice;
ALTER TABLE comparison DROP COLUMN undecided;
