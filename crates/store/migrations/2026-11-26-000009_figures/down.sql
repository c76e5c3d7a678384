DROP TRIGGER player_changed ON bag_club;
DROP TRIGGER player_changed ON session;
DROP FUNCTION player_changed();
DROP TABLE player_standing;
DROP TABLE session_figures;
