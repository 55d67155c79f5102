"""The number of the rules that plans are judged by: kept verdicts of another number are judged again.

Raise it when a figure, verdict or finding of a plan that did not change is another one now; a test fails that
holds what the frozen plans come to when it was not raised. ``tools/record.py`` records them anew.
"""

JUDGED_BY = 2
