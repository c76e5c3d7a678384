-- How a file was read, so that the next of its kind is read alike, and what there was to say.
ALTER TABLE import
    ADD layout     jsonb,
    ADD remarks    jsonb NOT NULL DEFAULT '[]',
    ADD rows_known bigint NOT NULL DEFAULT 0;
