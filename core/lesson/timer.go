package lesson

import (
	"fmt"

	"jetprimer/core/form"
)

const (
	// KindTimerStarted says that a timer was started.
	KindTimerStarted = "timer-started"
	// KindTimerStopped says that a timer was stopped.
	KindTimerStopped = "timer-stopped"
)

func init() {
	kinds[KindTimerStarted] = func() payload { return new(timer) }
	kinds[KindTimerStopped] = func() payload { return new(timer) }
	touches["timer"] = (*touch).timer
}

type timer struct {
	Timer string `json:"timer"`
	Item  string `json:"item,omitempty"`
}

func (t *timer) check() error {
	if t.Timer == "" || len(t.Timer) > 64 {
		return form.Bad("payload.timer", "must have 1 to 64 characters")
	}
	return nil
}

func (p *timer) apply(f *fold, h *held) {
	f.time(h, p)
}

func (f *fold) time(h *held, p *timer) {
	if h.Kind == KindTimerStarted {
		f.state.Timers = append(f.state.Timers, Timer{
			Timer: p.Timer, Item: p.Item, StartedMs: h.AtMs, Running: true, device: h.Device,
		})
		return
	}
	for i := len(f.state.Timers) - 1; i >= 0; i-- {
		t := &f.state.Timers[i]
		if t.Timer != p.Timer || t.Item != p.Item || !t.Running {
			continue
		}
		t.Running = false
		if t.device == h.Device && h.AtMs >= t.StartedMs {
			tenths := (h.AtMs - t.StartedMs + 50) / 100
			seconds := float64(tenths) / 10
			t.Seconds = &seconds
			f.timed(p.Timer, p.Item, seconds)
		}
		return
	}
}

// timed holds a timer to the time of its type: what the person does may not run
// over its limit, and nothing that is waited for may be stopped before its least.
func (f *fold) timed(timer, item string, seconds float64) {
	if o := f.state.Opened; o != nil && o.Paper != nil {
		return // what is written down is not timed
	}
	s := f.item(item)
	for _, d := range f.book.Type.Durations {
		if s == nil || d.ID != timer {
			continue
		}
		code := ""
		switch {
		case d.Act && d.MaxSeconds > 0 && seconds > d.MaxSeconds:
			code = "timer-overrun"
		case d.MinSeconds > 0 && seconds < d.MinSeconds:
			code = "timer-cut-short"
		default:
			continue
		}
		s.spoken = append(s.spoken, Reason{code, 1, fmt.Sprintf("%g s of “%s”: %s.", seconds, d.Label, d.Words())})
	}
}

// timer starts a timer, or stops it where it runs.
func (t *touch) timer() error {
	kind := KindTimerStarted
	for _, running := range t.state.Timers {
		if running.Timer == t.mark.Timer && running.Item == t.mark.Item && running.Running {
			kind = KindTimerStopped
		}
	}
	t.add(kind, timer{Timer: t.mark.Timer, Item: t.mark.Item})
	return nil
}
