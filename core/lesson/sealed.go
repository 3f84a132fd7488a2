package lesson

import "jetprimer/core/form"

// KindSealed is a signature.
const KindSealed = "sealed"

func init() {
	kinds[KindSealed] = func() payload { return new(Sealed) }
}

// Sealed is the signature of the exact set of events it names.
type Sealed struct {
	// Events are the ids of the sealed events, sorted; Hash is their SetHash.
	Events []string `json:"events"`
	Hash   string   `json:"hash"`
	// Last is the last sealed sequence of each device.
	Last map[string]int64 `json:"last"`
	// Result is the SHA-256 of the folded result, in hexadecimal.
	Result       string `json:"result"`
	RulesVersion string `json:"rulesVersion"`
	SignedBy     string `json:"signedBy"`
}

func (s *Sealed) check() error {
	if len(s.Events) == 0 || s.SignedBy == "" {
		return form.Bad("payload.events", "and signedBy must be given")
	}
	if s.Hash != SetHash(s.Events) {
		return form.Bad("payload.hash", "does not belong to the sealed events")
	}
	return nil
}

func (*Sealed) apply(*fold, *held) {}

// seals records the signatures and the addenda, and returns the events that
// the state is made of.
func (f *fold) seals(all []*held) []*held {
	var sealed map[string]bool // by the first seal
	signed := map[string]bool{}
	for _, h := range all {
		s, ok := h.payload.(*Sealed)
		if !ok {
			continue
		}
		set := map[string]bool{h.ID: true}
		missing := 0
		for _, id := range s.Events {
			set[id], signed[id] = true, true
			if f.events[id] == nil {
				missing++
			}
		}
		signed[h.ID] = true
		if sealed == nil {
			sealed = set
		}
		f.state.Seals = append(f.state.Seals, SealState{
			Event: h.ID, SignedBy: s.SignedBy, RulesVersion: s.RulesVersion, Wall: h.Wall, Hash: s.Hash,
			Result: s.Result, Events: len(s.Events), Missing: missing,
		})
	}
	if sealed == nil {
		return all
	}
	var body []*held
	for _, h := range all {
		if sealed[h.ID] {
			body = append(body, h)
			continue
		}
		switch p := h.payload.(type) {
		case *Sealed: // what was answered, was answered to an earlier one
			f.state.Acknowledged = false
		case *note:
			f.state.Addenda = append(f.state.Addenda, Addendum{h.ID, h.Kind, h.By, p.Words, signed[h.ID], h.AtMs})
		case *correction:
			f.state.Addenda = append(f.state.Addenda, Addendum{h.ID, h.Kind, h.By, p.Why, signed[h.ID], h.AtMs})
			f.correct(h, p, signed[h.ID])
		case *Answered:
			f.answer(h, p)
		case *selfGrade:
			if f.state.Self == nil {
				f.state.Self = &Self{p.Levels, p.Words}
			}
		default:
			f.state.Addenda = append(f.state.Addenda, Addendum{h.ID, h.Kind, h.By, "", signed[h.ID], h.AtMs})
		}
	}
	return body
}
