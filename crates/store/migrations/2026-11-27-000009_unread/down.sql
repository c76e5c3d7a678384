ALTER TABLE reading DROP unread;
