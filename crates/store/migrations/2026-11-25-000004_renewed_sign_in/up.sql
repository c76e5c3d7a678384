-- An owner renewed how somebody signs in: a code, or a second factor taken away.
ALTER TABLE audit
    DROP CONSTRAINT audit_act_check,
    ADD CONSTRAINT audit_act_check CHECK (act IN
        ('child_read', 'export', 'archive', 'erasure', 'role', 'consent', 'sharing', 'sign_in'));
