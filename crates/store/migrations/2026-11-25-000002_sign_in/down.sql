DO $$
DECLARE policy record;
BEGIN
    FOR policy IN SELECT tablename, policyname FROM pg_policies WHERE schemaname = current_schema()
    LOOP
        EXECUTE format('DROP POLICY %I ON %I', policy.policyname, policy.tablename);
        EXECUTE format('ALTER TABLE %I DISABLE ROW LEVEL SECURITY', policy.tablename);
    END LOOP;
END $$;
DROP FUNCTION tally_school(), tally_coach();
DROP TABLE player_share, wrong_try, web_session, credential;
ALTER TABLE player DROP coach_id;
ALTER TABLE school DROP demo;
ALTER TABLE coach DROP role, DROP left_at;
