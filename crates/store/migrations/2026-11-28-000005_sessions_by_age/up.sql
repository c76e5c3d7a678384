-- Whoever signs in forgets those that are over, in every school.
CREATE INDEX web_session_opened ON web_session (opened_at);
