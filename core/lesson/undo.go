package lesson

import (
	"slices"

	"jetprimer/core/form"
)

// KindUndo takes events back.
const KindUndo = "undo"

func init() {
	kinds[KindUndo] = func() payload { return new(undo) }
	touches["undo"] = (*touch).undo
	touches["unnote"] = func(t *touch) error {
		t.add(KindUndo, undo{[]string{t.mark.About}})
		return nil
	}
}

type undo struct {
	Targets []string `json:"targets"`
}

func (u *undo) check() error {
	if len(u.Targets) == 0 || len(u.Targets) > 100 {
		return form.Bad("payload.targets", "must name 1 to 100 events")
	}
	return nil
}

func (*undo) apply(*fold, *held) {}

// effective drops the events that are undone. A later undo decides over an
// earlier one, so an undo may itself be undone.
func effective(all []*held) []*held {
	undone := map[string]bool{}
	place := make(map[string]int, len(all))
	for i, h := range all {
		place[h.ID] = i
	}
	for i := len(all) - 1; i >= 0; i-- {
		u, isUndo := all[i].payload.(*undo)
		if !isUndo || undone[all[i].ID] {
			continue
		}
		for _, target := range u.Targets {
			at, here := place[target]
			if !here {
				continue
			}
			if _, targetIsUndo := all[at].payload.(*undo); targetIsUndo && at > i {
				continue
			}
			undone[target] = true
		}
	}
	live := make([]*held, 0, len(all))
	for _, h := range all {
		if _, isUndo := h.payload.(*undo); !isUndo && !undone[h.ID] {
			live = append(live, h)
		}
	}
	return live
}

// lastTouch is the last group of events of one device and moment that a person
// made and can take back: of a device where one is named.
func lastTouch(live []*held, device string) []string {
	ids := []string{}
	var last *held
	for i := len(live) - 1; i >= 0; i-- {
		h := live[i]
		if h.Kind == KindOpened || h.Kind == KindSealed || h.Kind == KindTimerStarted || h.Kind == KindTimerStopped ||
			device != "" && h.Device != device {
			continue
		}
		if last == nil {
			last = h
		}
		if h.Device == last.Device && h.AtMs == last.AtMs {
			ids = append(ids, h.ID)
		}
	}
	slices.Reverse(ids)
	return ids
}

// undo takes back the last touch; with two who mark, the last of this device.
func (t *touch) undo() error {
	last := t.state.LastTouch
	if own := t.state.touches[t.stamp.Device]; len(own) > 0 || len(t.state.Observers) > 0 {
		last = own
	}
	if len(last) > 0 {
		t.add(KindUndo, undo{last})
	}
	return nil
}
