DROP TABLE benchmark;
DROP TABLE goal;
