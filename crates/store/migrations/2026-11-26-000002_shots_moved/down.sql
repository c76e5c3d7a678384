DELETE FROM shot_mark WHERE kind = 'moved';
ALTER TABLE shot_mark
    DROP CONSTRAINT shot_mark_kind_check,
    ADD CONSTRAINT shot_mark_kind_check CHECK (kind IN
        ('set_aside', 'keep', 'withdraw', 'strike'));
