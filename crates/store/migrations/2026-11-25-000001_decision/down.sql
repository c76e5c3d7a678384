DROP TABLE decision;
