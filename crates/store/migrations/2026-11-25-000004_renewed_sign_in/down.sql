-- What was noted stays noted: old versions cannot read it, so it is told as a role.
UPDATE audit SET act = 'role' WHERE act = 'sign_in';
ALTER TABLE audit
    DROP CONSTRAINT audit_act_check,
    ADD CONSTRAINT audit_act_check CHECK (act IN
        ('child_read', 'export', 'archive', 'erasure', 'role', 'consent', 'sharing'));
