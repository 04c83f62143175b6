"""Speed, as medians with their spread: `make bench`. Machines are noisy; compare runs on one machine only."""

import gc

import against
import browser
import core
import measured
import told
import waits

if __name__ == "__main__":
    print(f"one yardstick (a fixed piece of pure Python on this machine): {measured.YARDSTICK_MS:.2f} ms")
    gc.collect()
    gc.freeze()  # as the server does
    core.judging()
    core.reach()
    core.lines()
    core.costs()
    core.kept()
    core.plain()
    core.paths()
    core.day()
    against.finder()
    against.assigning()
    against.columns()
    browser.api()
    browser.table()
    browser.sizes()
    told.told()
    waits.waits()
