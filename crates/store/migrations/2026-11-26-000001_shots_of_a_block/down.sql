DROP INDEX shot_block;
