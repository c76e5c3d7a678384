ALTER TABLE credential DROP totp_begun;
