DROP TABLE calendar_feed;
DROP TABLE run;
DROP TABLE programme_act;
DROP TABLE programme;
DROP TABLE protocol;
DROP TABLE implement;
