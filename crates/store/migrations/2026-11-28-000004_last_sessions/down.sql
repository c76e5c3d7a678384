DROP TRIGGER sessions_came ON session;
DROP TRIGGER sessions_went ON session;
DROP TRIGGER session_moved ON session;
DROP FUNCTION sessions_came();
DROP FUNCTION sessions_went();
DROP FUNCTION session_moved();
DROP FUNCTION last_session(uuid, uuid);
ALTER TABLE player DROP last_session_at;
