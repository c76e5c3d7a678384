DROP TABLE script_token;
