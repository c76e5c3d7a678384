-- A second factor that is begun takes the place of the one that is asked for when it is
-- confirmed, not before. One that was begun and never confirmed has to be begun again.
ALTER TABLE credential ADD totp_begun bytea;
UPDATE credential SET totp_secret = NULL WHERE totp_from IS NULL;
