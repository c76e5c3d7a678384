ALTER TABLE import DROP layout, DROP remarks, DROP rows_known;
