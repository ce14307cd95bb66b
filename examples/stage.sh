#!/bin/sh
# Metachron as one stage among standard programs: a compressed export goes in, lines of JSON
# come out, and rows that wait for a person go to a list of their own.
#
#     examples/stage.sh EXPORT.csv.gz RULINGS.toml > rows.jsonl
#
# Ends with Metachron's status: 3 where cells wait for a person.
set -eu
export=$1
rulings=$2

# What nobody has decided yet is decided once, by all rows, and kept.
if [ ! -e "$rulings" ]; then
    metachron settle "$export" -o "$rulings" || [ $? = 3 ]
fi
exec metachron convert "$export" -r "$rulings" --to jsonl --review waiting.csv
