package checklist

import (
	"encoding/json"
	"maps"
	"slices"
)

// Difference is one way in which a newer version of a list differs from an
// older one.
type Difference struct {
	Kind  string `json:"kind" enum:"added,removed,moved,changed"`
	Phase string `json:"phase"`
	Item  string `json:"item"`
	// Challenge is the item's, in the newer version where it is there.
	Challenge string `json:"challenge"`
	// Field is what changed, with the values before and after as JSON; of a
	// moved item it is what it stood behind and stands behind now.
	Field  string          `json:"field,omitempty"`
	Before json.RawMessage `json:"before,omitempty"`
	After  json.RawMessage `json:"after,omitempty"`
}

// Differences compares two versions item by item, in the order of the newer
// one; what was removed comes last. As few items as possible count as moved.
func Differences(older, newer List) []Difference {
	old, now := map[string]Place{}, map[string]Place{}
	places, earlier := newer.Places(), older.Places()
	for _, p := range earlier {
		old[p.Item.ID] = p
	}
	var common []int // positions in the older list, in the newer order
	for _, p := range places {
		now[p.Item.ID] = p
		if before, known := old[p.Item.ID]; known {
			common = append(common, before.Position)
		}
	}
	blamed, nth := OutOfOrder(common, false), 0
	out := []Difference{}
	for _, p := range places {
		phase := newer.Phases[p.Phase].ID
		before, known := old[p.Item.ID]
		if !known {
			out = append(out, Difference{Kind: "added", Phase: phase, Item: p.Item.ID, Challenge: p.Item.Challenge})
			continue
		}
		if blamed[nth] || older.Phases[before.Phase].ID != phase {
			out = append(out,
				Difference{Kind: "moved", Phase: phase, Item: p.Item.ID, Challenge: p.Item.Challenge, Field: "behind",
					Before: behind(earlier, before), After: behind(places, p)})
		}
		nth++
		out = append(out, changed(phase, before.Item, p.Item)...)
	}
	for _, p := range earlier {
		if _, stays := now[p.Item.ID]; !stays {
			out = append(out, Difference{
				Kind: "removed", Phase: older.Phases[p.Phase].ID, Item: p.Item.ID, Challenge: p.Item.Challenge,
			})
		}
	}
	return out
}

// behind is, as JSON, the challenge of the item before this one, empty for the
// first.
func behind(places []Place, p Place) json.RawMessage {
	challenge := ""
	if p.Position > 0 {
		challenge = places[p.Position-1].Item.Challenge
	}
	data, _ := json.Marshal(challenge) // a string is always JSON
	return data
}

func changed(phase string, before, after Item) []Difference {
	a, b := before.fields(), after.fields()
	names := map[string]bool{}
	for name := range a {
		names[name] = true
	}
	for name := range b {
		names[name] = true
	}
	var out []Difference
	for _, name := range slices.Sorted(maps.Keys(names)) {
		if string(a[name]) != string(b[name]) {
			out = append(out, Difference{
				Kind: "changed", Phase: phase, Item: after.ID, Challenge: after.Challenge, Field: name, Before: a[name],
				After: b[name],
			})
		}
	}
	return out
}

// fields are the item's fields as JSON, under their names.
func (i Item) fields() map[string]json.RawMessage {
	data, _ := json.Marshal(i) // plain strings, lists and flags
	var out map[string]json.RawMessage
	_ = json.Unmarshal(data, &out)
	return out
}
