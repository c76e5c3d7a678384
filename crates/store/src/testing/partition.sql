-- Parts the tables that grow by school, as a distributed PostgreSQL does: the same columns, keys,
-- indexes, policies and triggers, with each school's rows in one of four pieces.
DO $part$
DECLARE
    piece_count CONSTANT int := 4;
    name text;
    old oid;
    line text;
    again text[];
BEGIN
    -- Transition tables of a trigger are named in it, and keys point from table to table, so all
    -- that stands on a table is written down before the table goes.
    FOREACH name IN ARRAY ARRAY['session', 'block', 'session_act', 'session_figures', 'shot',
        'reading', 'shot_mark', 'shot_entry', 'trace']
    LOOP
        old := name::regclass;
        again := ARRAY(
            SELECT format('ALTER TABLE %s ADD CONSTRAINT %I %s', conrelid::regclass, conname,
                pg_get_constraintdef(oid))
            FROM pg_constraint
            WHERE conparentid = 0
                AND ((conrelid = old AND contype IN ('p', 'u', 'f'))
                    OR (confrelid = old AND contype = 'f'))
            ORDER BY array_position(ARRAY['p', 'u', 'f'], contype::text), oid
        );
        again := again || ARRAY(
            SELECT pg_get_indexdef(indexrelid) FROM pg_index
            WHERE indrelid = old
                AND NOT EXISTS (SELECT FROM pg_constraint WHERE conindid = indexrelid AND conrelid = old)
        );
        again := again || ARRAY(
            SELECT format('CREATE POLICY %I ON %I AS %s USING (%s)', policyname, name, permissive, qual)
            FROM pg_policies WHERE schemaname = 'public' AND tablename = name
        );
        again := again || ARRAY(
            SELECT pg_get_triggerdef(oid) FROM pg_trigger WHERE tgrelid = old AND NOT tgisinternal
        );
        FOR line IN
            SELECT format('ALTER TABLE %s DROP CONSTRAINT %I', conrelid::regclass, conname)
            FROM pg_constraint WHERE confrelid = old AND contype = 'f' AND conparentid = 0
        LOOP
            EXECUTE line;
        END LOOP;
        EXECUTE format('ALTER TABLE %I RENAME TO whole', name);
        EXECUTE format(
            'CREATE TABLE %I (LIKE whole INCLUDING DEFAULTS INCLUDING CONSTRAINTS INCLUDING STORAGE) PARTITION BY HASH (school_id)',
            name
        );
        FOR piece IN 0..piece_count - 1 LOOP
            EXECUTE format('CREATE TABLE %I PARTITION OF %I FOR VALUES WITH (MODULUS %s, REMAINDER %s)',
                name || '_piece_' || piece, name, piece_count, piece);
        END LOOP;
        EXECUTE format('INSERT INTO %I SELECT * FROM whole', name);
        DROP TABLE whole;
        FOREACH line IN ARRAY again LOOP
            EXECUTE line;
        END LOOP;
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('GRANT SELECT, INSERT, UPDATE, DELETE ON %I TO amber_tally_app', name);
    END LOOP;
END $part$;
