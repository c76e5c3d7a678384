-- Fills a founded school by rows that PostgreSQL makes itself: $PLAYERS players with $SESSIONS
-- sessions of $SHOTS shots each. The checks of foreign keys and our own triggers are off, so what
-- they keep is put in too. Identifiers follow each other in time, as ours do.
SET session_replication_role = replica;
CREATE TEMP SEQUENCE q;
CREATE FUNCTION pg_temp.made() RETURNS uuid LANGUAGE sql VOLATILE AS
$$ SELECT ('01890000-0000-7000-8000-' || lpad(to_hex(nextval('q')), 12, '0'))::uuid $$;
CREATE TEMP TABLE s ON COMMIT PRESERVE ROWS AS SELECT school_id FROM school;
CREATE TEMP TABLE c AS SELECT id FROM coach LIMIT 1;
INSERT INTO device (school_id, id, name, kind, seen_at, offsets, measures, calculates, practice)
SELECT school_id, pg_temp.made(), 'Radar ' || n, 'radar', now(), '{}', '["club_speed","ball_speed","launch_angle","spin_rate","carry"]', '[]', false
FROM s, generate_series(1, 2) AS n;
CREATE TEMP TABLE d AS SELECT (array_agg(id))[1] AS id FROM device;
INSERT INTO player (school_id, id, name, born, left_handed, aim, coach_id, guardian)
SELECT school_id, pg_temp.made(), firsts[1 + n % 40] || ' ' || lasts[1 + n / 40 % 50] || ' ' || lpad(n::text, 5, '0'), 1970 + n % 45, n % 9 = 0, 'Number ' || n, c.id, ''
FROM s, c, (VALUES (
    string_to_array('Mira Dov Åse Bram Cato Wren Orla Tova Iven Sanne Loic Petra Ruben Ilse Marek Noor Finn Greta Hugo Inka Jonas Katla Lars Maud Nils Odile Pavel Quill Rosa Sven Thea Ugo Vera Wout Xenia Yann Zora Alba Bruno Clea', ' '),
    string_to_array('Holm Straight Lund Aske Flight Aldous Finch Bergfal Corven Dallow Elstrup Fenmoor Garrow Hartsel Ivesko Jarnvik Kelder Lowmoor Marrick Nordal Oakhelm Pellworth Quarn Ravnsel Stenby Thorle Undel Varnholt Westrow Yarrick Zellin Ashgrove Brackwell Culmer Dunmarsh Eskdale Farrowby Gildern Hollbeck Isenmor Juddle Kirnsten Larchwood Mossvik Netherby Ormsten Pellock Rookhill Selmark Tarnby', ' ')
)) AS names (firsts, lasts), generate_series(1, $PLAYERS) AS n;
INSERT INTO session (school_id, id, player_id, purpose, club, place, altitude_m, temperature_c, humidity_pct, started_at, zone, ended_at, note, tags, paired)
SELECT player.school_id, pg_temp.made(), player.id, (ARRAY['benchmark', 'technique', 'bag_gapping'])[1 + n % 3], (ARRAY['driver', 'iron7', 'wedge_pitching'])[1 + n % 3], 'Bay', 100, 20, 50,
  at, 'UTC', at + interval '50 minutes', '', '[]', n % 10 = 0
FROM player, generate_series(1, $SESSIONS) AS n, LATERAL (SELECT now() - interval '1 day' * (n * 3 + 1) - right(player.name, 5)::int * interval '40 seconds' AS at) AS t;
UPDATE session SET shots = $SHOTS;
UPDATE player SET last_session_at = now() - interval '4 days' - right(name, 5)::int * interval '40 seconds';
INSERT INTO block (school_id, id, session_id, position, label, begun_at)
SELECT school_id, pg_temp.made(), id, n, (ARRAY['Stock', 'All-out'])[1 + n], started_at + n * interval '20 minutes' FROM session, generate_series(0, 1) AS n;
INSERT INTO shot (school_id, id, session_id, block_id, hit_at)
SELECT block.school_id, pg_temp.made(), block.session_id, block.id, block.begun_at + n * interval '40 seconds'
FROM block, generate_series(1, $SHOTS / 2) AS n;
INSERT INTO reading (school_id, id, shot_id, device_id, run, sequence, received_at, values)
SELECT shot.school_id, shot.id, shot.id, d.id, 'made', row_number() OVER (), hit_at, jsonb_build_object(
  'club_speed', jsonb_build_object('si', 40 + 3 * random(), 'from', 'measured'),
  'ball_speed', jsonb_build_object('si', 58 + 4 * random(), 'from', 'measured'),
  'launch_angle', jsonb_build_object('si', 11 + 4 * random(), 'from', 'measured'),
  'spin_rate', jsonb_build_object('si', 2400 + 600 * random(), 'from', 'measured'),
  'carry', jsonb_build_object('si', 190 + 20 * random(), 'from', 'measured'))
FROM shot, d;
-- One session in ten was told by the second device too.
INSERT INTO reading (school_id, id, shot_id, device_id, run, sequence, received_at, values)
SELECT shot.school_id, pg_temp.made(), shot.id, (SELECT id FROM device WHERE id <> d.id ORDER BY id LIMIT 1), 'made', row_number() OVER (), hit_at, jsonb_build_object(
  'club_speed', jsonb_build_object('si', 40 + 3 * random(), 'from', 'measured'),
  'ball_speed', jsonb_build_object('si', 58 + 4 * random(), 'from', 'measured'))
FROM d, session JOIN shot ON (shot.school_id, shot.session_id) = (session.school_id, session.id)
WHERE session.paired;
