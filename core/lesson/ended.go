package lesson

// KindEnded says that the lesson is over.
const KindEnded = "lesson-ended"

func init() {
	kinds[KindEnded] = func() payload { return new(nothing) }
	touches["end"] = func(t *touch) error { t.add(KindEnded, struct{}{}); return nil }
}

type nothing struct{}

func (*nothing) check() error { return nil }

func (p *nothing) apply(f *fold, h *held) {
	f.state.Ended = f.state.Ended || h.Kind == KindEnded
}
