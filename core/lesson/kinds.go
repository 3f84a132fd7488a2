package lesson

import (
	"jetprimer/core/form"
)

// payload is what an event of a known kind carries: which bounds it keeps, and what it does
// to the lesson. Each kind has its file, which adds it to kinds, and the marks that make it to
// touches.
type payload interface {
	check() error
	apply(f *fold, h *held)
}

// kinds says what each kind carries.
var kinds = map[string]func() payload{}

func needItem(item string) error {
	if item == "" || len(item) > 64 {
		return form.Bad("payload.item", "must have 1 to 64 characters")
	}
	return nil
}

const maxWords = 4000

func words(field, text string) error {
	if len(text) > maxWords {
		return form.Bad("payload."+field, "must be at most %d bytes", maxWords)
	}
	return nil
}
