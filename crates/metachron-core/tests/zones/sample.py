"""What Python's zoneinfo says of zones at random instants, a line each:
zone, instant, offset then; the same number as a local time, its offset by the
first run of an hour that was twice, and by the second (PEP 495). Seconds
throughout.

    python3 sample.py INSTANTS-PER-ZONE FROM-YEAR TO-YEAR [ZONE ...]
"""

import random
import sys
from datetime import datetime, timedelta, timezone
from zoneinfo import ZoneInfo, available_timezones

count, first, last = (int(number) for number in sys.argv[1:4])
zones = sys.argv[4:] or sorted(available_timezones())
epoch = datetime(1970, 1, 1, tzinfo=timezone.utc)
span = [int((datetime(year, 1, 1, tzinfo=timezone.utc) - epoch).total_seconds()) for year in (first, last)]
for name in zones:
    zone, chance = ZoneInfo(name), random.Random(name)
    # Half of the instants are near a change of the offset.
    changes = []
    for at in range(span[0], span[1], 14 * 86400):
        here, next = (
            (epoch + timedelta(seconds=second)).astimezone(zone).utcoffset()
            for second in (at, at + 14 * 86400)
        )
        if here != next:
            low, high = at, at + 14 * 86400
            while high - low > 1:
                middle = (low + high) // 2
                same = (epoch + timedelta(seconds=middle)).astimezone(zone).utcoffset() == here
                low, high = (middle, high) if same else (low, middle)
            changes.append(high)
    for number in range(count):
        at = chance.randrange(*span)
        if changes and number % 2:
            at = chance.choice(changes) + chance.randrange(-4 * 3600, 18 * 3600)
        offset = (epoch + timedelta(seconds=at)).astimezone(zone).utcoffset()
        local = datetime(1970, 1, 1) + timedelta(seconds=at)
        runs = [local.replace(tzinfo=zone, fold=fold).utcoffset() for fold in (0, 1)]
        print(name, at, *(int(offset.total_seconds()) for offset in (offset, *runs)))
