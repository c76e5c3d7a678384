DROP TABLE trace;
