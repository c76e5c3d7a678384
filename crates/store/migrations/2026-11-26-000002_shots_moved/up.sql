-- A shot given to another block is marked so: who did it, when, and from where to where.
ALTER TABLE shot_mark
    DROP CONSTRAINT shot_mark_kind_check,
    ADD CONSTRAINT shot_mark_kind_check CHECK (kind IN
        ('set_aside', 'keep', 'withdraw', 'strike', 'moved'));
