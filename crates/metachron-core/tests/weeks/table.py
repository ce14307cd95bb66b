"""Writes table.txt: of each year, the Monday of its first ISO week and how many weeks it has.

Independent of the code that is tested: by Python's own calendar.
python3 table.py > table.txt
"""

from datetime import date

for year in range(1970, 2071):
    monday = date.fromisocalendar(year, 1, 1)
    weeks = (date.fromisocalendar(year + 1, 1, 1) - monday).days // 7
    print(year, monday, weeks)
