"""Time: from a plan, its bench air and the hours a person has, which sitting does what.

`hours` is the calendar, `net` what the chemistry asks of time, `solve` the search, `check` the second opinion on it,
`shift` what happens when things slip, `dry_run` how likely it holds, `changes` what would make it fit, `out` what other
programs read. `schedule.schedule` is the door.
"""
