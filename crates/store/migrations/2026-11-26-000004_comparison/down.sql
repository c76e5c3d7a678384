DROP TABLE comparison;
