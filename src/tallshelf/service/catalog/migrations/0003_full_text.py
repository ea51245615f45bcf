"""The full-text tables (SQLite FTS5) and the triggers that keep them as their content tables are."""

from django.db import migrations

_TABLES = {
    "catalog_search": ("catalog_searchentry", ("name", "words", "text", "parameters"), "porter unicode61 remove_diacritics 2"),
    "catalog_search_word": ("catalog_searchword", ("padded",), "trigram"),
}


def _create(table, content, columns, tokenizer):
    names = ", ".join(columns)
    new = ", ".join(f"new.{one}" for one in columns)
    old = ", ".join(f"old.{one}" for one in columns)
    put = f"INSERT INTO {table}(rowid, {names}) VALUES (new.id, {new});"
    take = f"INSERT INTO {table}({table}, rowid, {names}) VALUES ('delete', old.id, {old});"
    return [
        f"CREATE VIRTUAL TABLE {table} USING fts5({names}, content='{content}', content_rowid='id', tokenize='{tokenizer}')",
        f"CREATE TRIGGER {table}_put AFTER INSERT ON {content} BEGIN {put} END",
        f"CREATE TRIGGER {table}_take AFTER DELETE ON {content} BEGIN {take} END",
        f"CREATE TRIGGER {table}_change AFTER UPDATE ON {content} BEGIN {take} {put} END",
    ]


def _drop(table):
    return [f"DROP TRIGGER {table}_{one}" for one in ("put", "take", "change")] + [f"DROP TABLE {table}"]


class Migration(migrations.Migration):
    dependencies = [("catalog", "0002_search_and_sunset")]

    operations = [
        migrations.RunSQL(_create(table, *about), _drop(table)) for table, about in _TABLES.items()
    ]
