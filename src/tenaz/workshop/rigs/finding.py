"""The question path over the book: what is known of a rig's parts, what follows from it, and work on them."""

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.readings import unseen_slots
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.parts.acts import Worked, work
from tenaz.core.parts.fitting import ALL_MEMORY, Fitting, unseen_in
from tenaz.core.parts.works import Work, fitting_at, named_all_along, parse_label
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.costs import costs_of, spent_h
from tenaz.core.trials.trial import Trial
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.easing import DOMAINS, eased, eased_domains, harder_than_stock
from tenaz.finding.learnt import ENDS
from tenaz.finding.sightings import MOST_LOOKED_AT, FaultSighting, Ran
from tenaz.finding.symptoms import Symptom, symptoms_in
from tenaz.orders import BringFinding, FollowFound, LabelPart, StartTrial, TickSymptom, WorkOnParts
from tenaz.pictures.find.model import FindPicture, Suspicion
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.rigs.parts import Parts
from tenaz.workshop.runs.running import Running

if TYPE_CHECKING:
    from tenaz.finding.next_acts import NextAct

MOST_TRIALS = 400
"""The newest trials that are looked at: a rig with more of them has another question."""
SIMULATED_SHARE, REAL_SHARE = 0.9, 0.6
"""The part of memory that is gone over: a real rig needs some for itself."""
MOST_SUSPECTS, MOST_ACTS = 12, 6
WORTH_NAMING = 0.004


class FaultFinding:
    """Orders about parts, and what is to be thought of them."""

    def __init__(self, at_work: AtWork, running: Running, parts: Parts) -> None:
        self._at = at_work
        self._running = running
        self._parts = parts

    # -- what is known ----------------------------------------

    @carries_out(BringFinding)
    def picture(self, _: BringFinding) -> FindPicture:
        """What the question path shows now."""
        # Only who asks pays for it.
        from tenaz.finding.around import ways_around  # noqa: PLC0415
        from tenaz.finding.belief import Belief  # noqa: PLC0415
        from tenaz.finding.grid import KnownOfFaults  # noqa: PLC0415
        from tenaz.finding.heat import patterns  # noqa: PLC0415
        from tenaz.finding.next_acts import next_acts  # noqa: PLC0415
        from tenaz.finding.reasons import reasons  # noqa: PLC0415
        from tenaz.finding.rescue import rescue  # noqa: PLC0415
        from tenaz.finding.staying import could_hide, must_stay_away  # noqa: PLC0415
        from tenaz.finding.verdicts import verdict  # noqa: PLC0415

        rig, works = self._at.rig, named_all_along(self._parts.works())
        now = works[-1].fitting if works else self._parts.now()
        first = self._parts.first(works)
        cores = max(1, rig.cores_known)
        looked_at = [one for one in self._at.trials.trials if not one.open][-MOST_TRIALS:]
        counting = [one for one in looked_at if _counts(rig, one)]
        sightings = self._sightings(counting, works, first)
        fittings = (first, *(one.fitting for one in works[1:]))
        labels = self._parts.labels()
        trusted = tuple((Suspect(Part(one.part[0]), one.part[1]), one.state) for one in labels)
        known = KnownOfFaults(fittings, cores, symptoms_of(rig), sightings, trusted)
        belief = Belief(known)
        said, costs = verdict(belief), costs_of(counting)
        newest_eased = eased_domains(rig, self._at.in_force())
        cuts = [domain for domain in DOMAINS if eased(rig, rig.stock, domain) is not None]
        share = SIMULATED_SHARE if not self._at.bench.real else REAL_SHARE
        acts = _of_each_kind(next_acts(belief, now, newest_eased, costs, cuts, share))
        suspects = tuple(
            Suspicion(suspect, sure, reasons(belief, suspect))
            for suspect, sure in belief.suspects[:MOST_SUSPECTS]
            if sure >= WORTH_NAMING
        )
        minutes = sum(spent_h(one) * 60 for one in counting) + sum(one.minutes for one in works)
        return FindPicture(
            rig=rig,
            fitting=now,
            symptoms=known.symptoms,
            suspects=suspects,
            verdict=said,
            acts=acts,
            works=works,
            labels=labels,
            heat=patterns(sightings, rig),
            capacity=self._capacity(now, looked_at, works),
            minutes=minutes,
            trials=len(counting),
            passed_over=len(looked_at) - len(counting),
            stays_away=must_stay_away(belief, now),
            hides=could_hide(belief),
            around=ways_around(rig, said.suspect, cores),
            solo_min=_solo_minutes(counting, cores),
            sightings=sightings,
            rescue=rescue(belief, rig, said.suspect),
            simulated=not self._at.bench.real,
            address_map=belief.address_map,
            shown_h=_shown(counting),
        )

    def _sightings(self, trials: Sequence[Trial], works: tuple[Work, ...], first: Fitting) -> tuple[FaultSighting, ...]:
        from tenaz.finding.sensing import sensed_of  # noqa: PLC0415

        store, rig = self._at.store, self._at.rig
        found = []
        for trial in trials:
            read = store.trials.readings_of(trial.id)
            wrong = store.load.mismatches_of(trial.id)[:MOST_LOOKED_AT] if trial.errors else ()
            failed = None
            outcome = trial.outcome.as_found if trial.outcome else Outcome.LOST
            if outcome in ENDS:
                failed = trial.clean_s
            found.append(
                FaultSighting(
                    fitting=fitting_at(works, trial.number, first),
                    ran=tuple(ran for one in (trial.plan, *trial.plan.beside) for ran in _ran(one)),
                    outcome=outcome,
                    seconds=trial.elapsed_s,
                    failed_after_s=failed,
                    eased=eased_domains(rig, trial.setpoint),
                    wrong=wrong,
                    unseen=unseen_slots(read[-1]) if read else (),
                    sensed=sensed_of(trial.facts.sensors, trial.facts.room_c or rig.room_c),
                    number=trial.number,
                )
            )
        return tuple(found)

    def _capacity(self, now: Fitting, trials: Sequence[Trial], works: Sequence[Work]) -> str:
        """What the newest start missed, or that nobody looked since the parts were worked on."""
        if any(one.slot == ALL_MEMORY for one in now.modules):
            return "which slot holds what is not known: e, then slots, tells modules apart"
        since = works[-1].after_number if len(works) > 1 else 0
        newest = trials[-1] if trials else None
        if newest is None or newest.number <= since:
            return "full capacity not looked at since the parts were worked on" if len(works) > 1 else ""
        read = self._at.store.trials.readings_of(newest.id)
        unseen = unseen_slots(read[-1]) if read else ()
        if not unseen:
            return ""
        return unseen_in(now, None, [one.slot for one in now.fitted if one.slot not in unseen])

    # -- orders ----------------------------------------

    @carries_out(WorkOnParts)
    def work(self, order: WorkOnParts) -> str:
        """Work on the parts: of a simulated rig it is done, of a real one it was done by hand and is written down.

        Raises:
            Refused: nothing that is done to parts, or something runs.
        """
        self._at.refuse_while("work on the parts")
        before = self._parts.now()
        done = work(before, max(1, self._at.rig.cores_known), order.text)
        self._check(done)
        self._parts.keep(before, order.text, done)
        return f"{done.told} ({done.minutes:g} min)"

    def _check(self, done: Worked) -> None:
        if not done.fitting.fitted and self._at.bench.real:
            raise Refused("no module would be left: a rig without memory does not start.")

    @carries_out(LabelPart)
    def label(self, order: LabelPart) -> str:
        """Put a label on a part."""
        label, store = parse_label(order.text), self._at.store
        key = store.works.label(self._at.rig.name, label, self._at.clock)
        self._at.undoing.push(f"label on {label.name}", partial(store.works.take_off, key))
        self._at.log("parts", label.show())
        return label.show()

    @carries_out(TickSymptom)
    def tick(self, order: TickSymptom) -> str:
        """A symptom was noticed after all, or not; without one, the complaint is read anew.

        Raises:
            Refused: it is no symptom; names those that there are.
        """
        before = self._at.rig
        if not order.symptom:
            ticked: tuple[str, ...] | None = None
        else:
            known = {one.value: one for one in Symptom}
            if order.symptom not in known:
                raise Refused(f"{order.symptom[:20]!r} is no symptom; there are {', '.join(known)}.")
            had = [one.value for one in symptoms_of(before)]
            one = order.symptom
            ticked = tuple(s for s in known if (s in had) != (s == one))
        self._at.put(replace(before, symptoms=ticked))
        self._at.undoing.push("a symptom", partial(self._at.put, before))
        return f"told: {', '.join(one.value for one in symptoms_of(self._at.rig)) or 'nothing'}"

    @carries_out(FollowFound)
    def follow(self, order: FollowFound) -> str:
        """Do what comes next: the work, then the trial."""
        told = self.work(WorkOnParts(order.work)) if order.work else ""
        rig = self._at.rig
        setpoint = rig.stock
        for domain in order.eased:
            setpoint = eased(rig, setpoint, domain) or setpoint
        self._running.start_trial(StartTrial(setpoint, order.load, order.reason))
        return told


def _of_each_kind(acts: "Sequence[NextAct]") -> "tuple[NextAct, ...]":
    """The best of each kind of work: what differs only in which slot or core is told once."""
    found: dict[tuple[str, tuple[str, ...]], NextAct] = {}
    for act in acts:
        words = " ".join(part.split()[0] for part in act.work.split(";") if part.strip())
        found.setdefault((words, act.eased), act)
    return tuple(found.values())[:MOST_ACTS]


def symptoms_of(rig: Rig) -> tuple[Symptom, ...]:
    """What was noticed of a rig: as it was ticked, else as its complaint tells."""
    if rig.symptoms is None:
        return symptoms_in(rig.complaint)
    return tuple(one for one in Symptom if one.value in rig.symptoms)


def _counts(rig: Rig, trial: Trial) -> bool:
    """Whether a trial says anything of the parts: not one that was harder than stock, nor one that nobody judged; a
    graphics card's own loads tell of no part that is looked for here.
    """
    return (
        not trial.plan.kind.declared.on_cards
        and trial.outcome not in (None, Outcome.LOST)
        and not harder_than_stock(rig, trial.setpoint)
    )


def _ran(plan: LoadPlan) -> tuple[Ran, ...]:
    """What it strained: itself, or what it counts as."""
    return tuple(Ran(kind, plan.share, plan.cores) for kind in plan.counts_as or (plan.kind,))


def _shown(trials: Sequence[Trial]) -> tuple[tuple[str, float], ...]:
    """Clean hours by kind of load, the most first."""
    found: dict[str, float] = {}
    for trial in trials:
        for kind in trial.plan.kinds:
            found[kind.value] = found.get(kind.value, 0.0) + trial.clean_s / 3600.0
    return tuple(sorted(found.items(), key=lambda item: -item[1]))


def _solo_minutes(trials: Sequence[Trial], cores: int) -> dict[int, float]:
    """Minutes of each core alone at its highest clock."""
    found = dict.fromkeys(range(cores), 0.0)
    for trial in trials:
        if trial.plan.kind is LoadKind.SOLO:
            on = trial.plan.cores or tuple(range(cores))
            for core in on:
                if core in found:
                    found[core] += trial.clean_s / 60.0 / len(on)
    return found
