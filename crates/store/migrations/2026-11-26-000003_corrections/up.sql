-- What was recorded is put right, or a session taken out: written down who did it.
ALTER TABLE audit
    DROP CONSTRAINT audit_act_check,
    ADD CONSTRAINT audit_act_check CHECK (act IN
        ('child_read', 'export', 'archive', 'erasure', 'role', 'consent', 'sharing', 'sign_in',
         'correction', 'removal'));
