"""The database refuses every change of an email's state that is no transition of its life
(`core.delivering.TRANSITIONS`; a test holds the two against each other)."""

from django.db import migrations

TRIGGER = """
CREATE FUNCTION guard_send_life() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF (OLD.state || '>' || NEW.state) NOT IN (
        'queued>handing_over', 'queued>held', 'queued>withdrawn',
        'handing_over>sent', 'handing_over>queued', 'handing_over>withdrawn',
        'handing_over>held', 'handing_over>refused', 'handing_over>unknown',
        'unknown>sent', 'unknown>queued',
        'held>queued', 'held>withdrawn',
        'refused>queued',
        'withdrawn>queued'
    ) THEN
        RAISE EXCEPTION 'an email that is % cannot become %', OLD.state, NEW.state
            USING ERRCODE = 'check_violation';
    END IF;
    RETURN NEW;
END $$;
CREATE TRIGGER send_has_one_life BEFORE UPDATE OF state ON mail_send
    FOR EACH ROW WHEN (OLD.state IS DISTINCT FROM NEW.state) EXECUTE FUNCTION guard_send_life();
"""
BACK = """
DROP TRIGGER send_has_one_life ON mail_send;
DROP FUNCTION guard_send_life();
"""


class Migration(migrations.Migration):
    dependencies = [("mail", "0016_one_decision")]
    operations = [migrations.RunSQL(TRIGGER, BACK)]
