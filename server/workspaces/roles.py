"""The database role that serves: it owns no table and is no superuser. It can neither truncate, nor disable a
trigger, nor change or remove evidence, but by the two functions that erasing and merging go by."""

from django.db import connection, transaction
from psycopg import sql

_ONLY_ADDED_TO = ("people_evidence", "people_evidencereleased")
_STATEMENTS = (
    "GRANT CONNECT ON DATABASE {database} TO {role}",
    "GRANT USAGE ON SCHEMA public TO {role}",
    "GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO {role}",
    "GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO {role}",
    "GRANT EXECUTE ON ALL FUNCTIONS IN SCHEMA public TO {role}",
    "REVOKE INSERT, UPDATE, DELETE ON django_migrations FROM {role}",
)


@transaction.atomic
def grant_serving(role: str, password: str) -> None:
    """Make the role that serves, or give it what it needs of the tables as they are now. Called by the owner of
    the tables after each migration."""
    names = {
        "role": sql.Identifier(role),
        "password": sql.Literal(password),
        "database": sql.Identifier(connection.settings_dict["NAME"]),
    }
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1 FROM pg_roles WHERE rolname = %s", [role])
        make = "ALTER" if cursor.fetchone() else "CREATE"
        how = "LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION NOBYPASSRLS"
        statement = sql.SQL(f"{make} ROLE {{role}} {how} PASSWORD {{password}}")
        cursor.execute(statement.format(**names))
        for one in _STATEMENTS:
            cursor.execute(sql.SQL(one).format(**names))
        for table in _ONLY_ADDED_TO:
            revoke = sql.SQL("REVOKE UPDATE, DELETE, TRUNCATE ON {} FROM {}")
            cursor.execute(revoke.format(sql.Identifier(table), names["role"]))
