"""A day of the plan, rehearsed: the hours, what breaks, the jobs, the day as it goes, and many drawn days."""
