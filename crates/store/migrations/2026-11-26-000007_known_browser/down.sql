DROP TABLE known_browser;
