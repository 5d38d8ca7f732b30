"""Sources: whatever records a swing. Each kind is one object (``kind.Kind``) that knows its streams from storage to
values; ``reading`` puts together what several saw of one swing, ``capture`` reads a whole recording."""
