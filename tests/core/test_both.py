"""One act settles what holds for both states of a station, or says which of them it settles."""

import unittest

from reamer.core.answer.findings import Finding, Fix, Subject
from reamer.core.answer.say import Sentence, words
from reamer.core.assess import assess
from reamer.core.plan.edits import Edit, apply
from reamer.core.station.drop import _for_both
from reamer.demos import canyon


def said(*edits, label="Tie it"):
    sentence = Sentence("An end is open", {}, {})
    fix = Fix(Sentence(label, {}, {}), edits) if edits else None
    return Finding("end.open", "Shortfall", Subject("d1", "end.r1-a", "party"), sentence, sentence, "", fix)


class Both(unittest.TestCase):
    def test_acts_of_two_states_become_one_or_say_whom_they_are_for(self):
        party, last = Edit(("drops", 0, "a"), 1), Edit(("drops", 0, "b"), 2)
        self.assertEqual(_for_both(said(party), said(last)).fix.edits, (party, last))
        self.assertEqual(_for_both(said(party), said(party)).fix.edits, (party,))
        # The same place set to two things: two acts, each for its own.
        clash = _for_both(said(party), said(Edit(party.path, 3)))
        told = [words(f.label) for f in (clash.fix, *clash.others)]
        self.assertEqual(told, ["Tie it, for the party", "Tie it, for the last person"])
        self.assertEqual(words(_for_both(said(), said(last)).fix.label), "Tie it, for the last person")
        self.assertIsNone(_for_both(said(), said()).fix)

    def test_an_open_end_of_both_states_is_closed_in_both_with_one_act(self):
        plan = canyon()
        for drop in plan.drops:
            if len(drop.station.states) < 2:
                continue
            bare = tuple(
                s.model_copy(update={"system": s.system.model_copy(update={"stoppers": ()})})
                for s in drop.station.states
            )
            station = drop.station.model_copy(update={"states": bare})
            n = plan.drops.index(drop)
            drops = (*plan.drops[:n], drop.model_copy(update={"station": station}), *plan.drops[n + 1 :])
            opened = plan.model_copy(update={"drops": drops})
            for f in assess(opened).drops[n].findings:
                if f.code != "end.open" or f.subject.state or f.fix is None or ", for the " in words(f.fix.label):
                    continue
                after = assess(apply(opened, f.fix.edits)).drops[n].findings
                self.assertNotIn(f.key, [x.key for x in after])


if __name__ == "__main__":
    unittest.main()
