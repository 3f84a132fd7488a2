package lesson

import (
	"slices"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

const (
	// KindItemOpened says which item is live on a device.
	KindItemOpened = "item-opened"
	// KindItemResult is the result of an item.
	KindItemResult = "item-result"
	// KindPrompt is a word that the student needed.
	KindPrompt = "prompt"
	// KindAssist is a hand that the student needed.
	KindAssist = "assist"
	// KindSelfCorrection says that the student put an item right alone.
	KindSelfCorrection = "self-correction"
	// KindOmitted says that an item was left out.
	KindOmitted = "omitted"
	// KindNotApplicable says that the aircraft does not have what an item is about.
	KindNotApplicable = "not-applicable"
	// KindShown says that the instructor showed an item.
	KindShown = "shown"
)

func init() {
	kinds[KindItemOpened] = func() payload { return new(itemOpened) }
	kinds[KindItemResult] = func() payload { return new(itemResult) }
	kinds[KindPrompt] = func() payload { return new(itemMark) }
	kinds[KindAssist] = func() payload { return new(itemMark) }
	kinds[KindSelfCorrection] = func() payload { return new(itemMark) }
	kinds[KindOmitted] = func() payload { return new(itemMark) }
	kinds[KindNotApplicable] = func() payload { return new(itemMark) }
	kinds[KindShown] = func() payload { return new(itemMark) }
	touches["done"] = func(t *touch) error { return t.result("done") }
	touches["wrong"] = func(t *touch) error { return t.result("wrong") }
	touches["prompted"] = func(t *touch) error { return t.after(KindPrompt) }
	touches["helped"] = func(t *touch) error { return t.after(KindAssist) }
	touches["self-fixed"] = (*touch).selfFixed
	touches["left-out"] = func(t *touch) error { return t.instead(KindOmitted) }
	touches["not-fitted"] = func(t *touch) error { return t.instead(KindNotApplicable) }
	touches["shown"] = func(t *touch) error { return t.instead(KindShown) }
	touches["open"] = (*touch).open
	touches["look"] = (*touch).look
}

type itemMark struct {
	Item string `json:"item"`
}

func (m *itemMark) check() error { return needItem(m.Item) }

func (p *itemMark) apply(f *fold, h *held) {
	f.mark(h, p.Item)
}

type itemOpened struct {
	Item string `json:"item"`
}

func (o *itemOpened) check() error { return needItem(o.Item) }

func (p *itemOpened) apply(f *fold, h *held) {
	f.state.Live = p.Item
	f.state.lives[h.Device] = p.Item
}

type itemResult struct {
	Item     string `json:"item"`
	Result   string `json:"result"`
	Value    string `json:"value,omitempty"`
	Response string `json:"response,omitempty"`
	Implied  bool   `json:"implied,omitempty"`
}

func (r *itemResult) check() error {
	if r.Result != "done" && r.Result != "wrong" {
		return form.Bad("payload.result", "must be done or wrong")
	}
	if err := words("value", r.Value+r.Response); err != nil {
		return err
	}
	return needItem(r.Item)
}

func (p *itemResult) apply(f *fold, h *held) {
	f.result(h, p)
}

func (f *fold) result(h *held, p *itemResult) {
	s := f.item(p.Item)
	if s == nil || p.Implied && (s.status != "" || f.stops(f.index[p.Item])) {
		return
	}
	s.status, s.implied, s.atMs = p.Result, p.Implied, h.AtMs
	s.value, s.response = p.Value, p.Response
	f.complete(f.index[p.Item])
}

// stops reports whether an item stops the passing of what nobody marked, as the
// school decides.
func (f *fold) stops(at int) bool { return f.state.stops(f.places[at].Item) }

func (s *State) stops(item checklist.Item) bool {
	return s.Opened != nil && s.Opened.Passing == Passings[1] && (item.Critical || item.Check != "")
}

// complete counts the item at a place as done in its turn. What was read too low
// for the power that the item raises has not been waited for.
func (f *fold) complete(at int) {
	s := &f.items[at]
	if s.completed != 0 {
		return
	}
	f.done++
	s.completed, s.round = f.done, f.begun
	for _, before := range f.places[at].Item.After {
		if len(f.cold[before]) > 0 {
			s.broken = append(s.broken, before)
		}
	}
}

func (f *fold) mark(h *held, item string) {
	s := f.item(item)
	if s == nil {
		return
	}
	s.atMs = h.AtMs
	switch h.Kind {
	case KindPrompt:
		s.prompts++
	case KindAssist:
		s.assists++
	case KindSelfCorrection:
		s.selfCorrected = true
	case KindOmitted, KindNotApplicable, KindShown:
		s.status, s.completed, s.implied = h.Kind, 0, false
	}
}

// result marks the item and goes on to the next.
func (t *touch) result(result string) error {
	t.pass(t.index[t.mark.Item])
	t.add(KindItemResult, itemResult{Item: t.mark.Item, Result: result})
	t.takeOff(t.index[t.mark.Item])
	t.next()
	return nil
}

// takeOff starts the time on the tank once, where the item at a place counts it.
func (t *touch) takeOff(at int) {
	item := t.places[at].Item
	if slices.Contains(item.Timers, TankTimer) &&
		!slices.ContainsFunc(t.state.Timers, func(r Timer) bool { return r.Timer == TankTimer }) {
		t.add(KindTimerStarted, timer{Timer: TankTimer, Item: item.ID})
	}
}

// after marks the item done after a word or a hand.
func (t *touch) after(kind string) error {
	t.pass(t.index[t.mark.Item])
	t.add(kind, t.item())
	return t.result("done")
}

func (t *touch) instead(kind string) error {
	t.pass(t.index[t.mark.Item])
	t.add(kind, t.item())
	t.next()
	return nil
}

// selfFixed: in a flow the student's own check by the list found the item; line
// by line the student noticed alone.
func (t *touch) selfFixed() error {
	if t.state.Opened != nil && t.state.Opened.Method == "flow-then-verify" {
		t.add(KindLate, late{Item: t.mark.Item, Found: "verification"})
	} else {
		t.add(KindSelfCorrection, t.item())
	}
	return t.result("done")
}

// open opens an item; a later one passes what is unmarked before it as done.
func (t *touch) open() error {
	at := t.index[t.mark.Item]
	if at == t.Live(t.state) && t.state.Live == t.mark.Item {
		return nil
	}
	t.passTo(at)
	return nil
}

// look opens an item as it stands, to decide there what is open: nothing is passed by it.
func (t *touch) look() error {
	if t.state.Live != t.mark.Item {
		t.add(KindItemOpened, itemOpened{t.mark.Item})
	}
	return nil
}
