package lesson

import "jetprimer/core/form"

// KindLate says that an item was missing when its time came.
const KindLate = "late"

func init() {
	kinds[KindLate] = func() payload { return new(late) }
}

// late says that the item was missing when its time came. Found is
// verification when the student's own check by the list found it.
type late struct {
	Item  string `json:"item"`
	Found string `json:"found,omitempty"`
}

func (m *late) check() error {
	if m.Found != "" && m.Found != "verification" && m.Found != "instructor" {
		return form.Bad("payload.found", "must be verification or instructor")
	}
	return needItem(m.Item)
}

func (p *late) apply(f *fold, _ *held) {
	f.late(p)
}

// late says that an item was missing when its time came. What the student's own
// check by the list found is no omission.
func (f *fold) late(p *late) {
	s := f.item(p.Item)
	if s == nil {
		return
	}
	s.late, s.verified = p.Found != "verification", p.Found == "verification"
	if s.verified && s.status == KindOmitted {
		s.status = "done"
		f.complete(f.index[p.Item])
	}
}
