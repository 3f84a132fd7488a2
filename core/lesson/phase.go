package lesson

import "jetprimer/core/form"

// KindPhaseClosed says that the rest of a phase is right.
const KindPhaseClosed = "phase-closed"

func init() {
	kinds[KindPhaseClosed] = func() payload { return new(phaseClosed) }
	touches["pass-phase"] = (*touch).passPhase
}

type phaseClosed struct {
	Phase string `json:"phase"`
}

func (p *phaseClosed) check() error {
	if p.Phase == "" {
		return form.Bad("payload.phase", "is missing")
	}
	return nil
}

func (p *phaseClosed) apply(f *fold, _ *held) {
	f.closed[p.Phase] = true
}

// passPhase passes the rest of the live item's phase, and opens the next.
func (t *touch) passPhase() error {
	at := t.Live(t.state)
	end := at
	for end < len(t.places) && t.places[end].Phase == t.places[at].Phase {
		end++
	}
	t.passTo(end)
	return nil
}
