package lesson

import (
	"slices"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// KindRound says that a phase begins anew.
const KindRound = "round"

func init() {
	kinds[KindRound] = func() payload { return new(round) }
	touches["round"] = (*touch).round
}

// round begins a phase again, such as a second start or run-up: its items and
// the attempts of its checks are counted anew, and the earlier ones are kept.
type round struct {
	Phase string `json:"phase"`
}

func (r *round) check() error {
	if r.Phase == "" || len(r.Phase) > 64 {
		return form.Bad("payload.phase", "must have 1 to 64 characters")
	}
	return nil
}

func (p *round) apply(f *fold, _ *held) {
	f.again(p.Phase)
}

// again begins a phase anew: its items as they stand are kept as a round.
func (f *fold) again(phase string) {
	at := slices.IndexFunc(f.book.List.Phases, func(p checklist.Phase) bool { return p.ID == phase })
	mine := func(i int) bool { return f.places[i].Phase == at }
	touched := false
	for i := range f.items {
		touched = touched || mine(i) && f.items[i].status != ""
	}
	if !touched {
		return
	}
	f.begun++
	past := pastRound{phase: at, round: f.roundOf(at), items: slices.Clone(f.items)}
	f.judgeOrder(past.items)
	f.rounds = append(f.rounds, past)
	for i := range f.items {
		if mine(i) {
			f.items[i] = itemFold{}
		}
	}
	delete(f.closed, phase)
}

// roundOf is the round of a phase that is being worked, from 1.
func (f *fold) roundOf(phase int) int {
	n := 1
	for _, past := range f.rounds {
		if past.phase == phase {
			n++
		}
	}
	return n
}

// round begins a phase again: the live item's, where none is named.
func (t *touch) round() error {
	phase := t.mark.Phase
	if phase == "" {
		phase = t.book.List.Phases[t.places[t.index[t.mark.Item]].Phase].ID
	}
	for _, p := range t.places {
		if t.book.List.Phases[p.Phase].ID == phase {
			t.add(KindRound, round{phase})
			t.add(KindItemOpened, itemOpened{p.Item.ID})
			return nil
		}
	}
	return form.Bad("phase", "%q is not on the list", form.Clip(phase))
}
