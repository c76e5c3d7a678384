DROP INDEX session_place;
