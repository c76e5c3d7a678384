DELETE FROM audit WHERE act IN ('correction', 'removal');
ALTER TABLE audit
    DROP CONSTRAINT audit_act_check,
    ADD CONSTRAINT audit_act_check CHECK (act IN
        ('child_read', 'export', 'archive', 'erasure', 'role', 'consent', 'sharing', 'sign_in'));
