DROP TABLE target_window;
