DROP INDEX web_session_opened;
