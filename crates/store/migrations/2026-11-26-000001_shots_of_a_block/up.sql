-- Counting a block's shots and taking out a planned block look the shots up by it.
CREATE INDEX shot_block ON shot (school_id, block_id);
