DROP TABLE board;
