DROP TABLE player_link, audit;
ALTER TABLE player DROP guardian, DROP consent_on;
