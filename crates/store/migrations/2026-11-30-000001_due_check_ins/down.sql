DROP INDEX player_standing_due;
