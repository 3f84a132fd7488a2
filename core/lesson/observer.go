package lesson

import (
	"slices"

	"jetprimer/core/form"
)

// KindObserver lets another instructor sit in and mark as well.
const KindObserver = "observer"

func init() {
	kinds[KindObserver] = func() payload { return new(observer) }
	touches["observer"] = (*touch).observer
}

// observer lets another instructor, who sits in, mark the lesson as well.
type observer struct {
	Person string `json:"person"`
	Name   string `json:"name"`
}

func (o *observer) check() error {
	if o.Person == "" || len(o.Person) > 64 || len(o.Name) > 200 {
		return form.Bad("payload.person", "must have 1 to 64 characters, and name at most 200")
	}
	return nil
}

func (p *observer) apply(f *fold, _ *held) {
	f.state.Observers = append(slices.DeleteFunc(f.state.Observers,
		func(o Observer) bool { return o.Person == p.Person }), Observer(*p))
}

// observer lets another instructor mark as well.
func (t *touch) observer() error {
	if t.mark.Person == "" {
		return form.Bad("person", "is not chosen yet")
	}
	t.add(KindObserver, observer{t.mark.Person, t.mark.Words})
	return nil
}
