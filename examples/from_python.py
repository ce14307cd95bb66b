#!/usr/bin/env python3
"""Dates of a pyarrow table, cleaned by Metachron: record batches go to the program and come
back as a stream of Arrow's IPC format, with real types.

    pip install pyarrow
    python examples/from_python.py
"""

import io
import subprocess
import tempfile

import pyarrow as pa


def run(*words, stdin=None):
    """Runs the program; status 3 says that cells wait for a person, and is no failure."""
    done = subprocess.run(["metachron", *words], input=stdin, capture_output=True)
    if done.returncode not in (0, 3):
        raise RuntimeError(done.stderr.decode())
    return done.stdout


def as_stream(table):
    """The table as bytes of an Arrow stream."""
    out = io.BytesIO()
    with pa.ipc.new_stream(out, table.schema) as writer:
        writer.write_table(table)
    return out.getvalue()


def clean(table, rulings):
    """The table with typed dates and times, read as the rulings file says."""
    words = ["convert", "-", "--from", "arrows", "--to", "arrow", "-r", rulings]
    return pa.ipc.open_stream(run(*words, stdin=as_stream(table))).read_all()


def main():
    table = pa.table({
        "object": ["Salt cellar", "Miner's lamp", "Caravan bell", "Map of the coast"],
        "packed": ["14/03/2025", "02/04/2025", "28/03/2025", "n/a"],
        "handed over": ["2025-03-14 14:30", "2025-04-02 09:05", "2025-03-28 10:15", None],
        "crates": [2, 1, 4, 3],
    })
    with tempfile.TemporaryDirectory() as folder:
        rulings = f"{folder}/rulings.toml"
        # Decided once, by all rows; a person can read and change the file.
        run("settle", "-", "--from", "arrows", "-o", rulings, stdin=as_stream(table))
        typed = clean(table, rulings)
    print(typed.schema.remove_metadata())
    print(typed.to_pandas() if has_pandas() else typed.to_pylist())
    assert typed.schema.field("packed").type == pa.date32()
    assert typed.schema.field("handed over").type == pa.timestamp("us")
    assert typed.schema.field("crates").type == pa.int64()
    assert typed.column("packed").null_count == 1


def has_pandas():
    try:
        import pandas  # noqa: F401
    except ImportError:
        return False
    return True


if __name__ == "__main__":
    main()
