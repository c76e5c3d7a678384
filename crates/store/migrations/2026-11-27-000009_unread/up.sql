-- What a device told that was not known then.
ALTER TABLE reading ADD unread jsonb;
