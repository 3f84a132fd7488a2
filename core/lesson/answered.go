package lesson

import (
	"cmp"
	"strings"

	"jetprimer/core/form"
)

// KindAcknowledged is the student's answer to a signed lesson.
const KindAcknowledged = "acknowledged"

func init() {
	kinds[KindAcknowledged] = func() payload { return new(Answered) }
}

// Answered is the student's answer to a signed lesson: acknowledged, with
// remarks or without, or refused, with words.
type Answered struct {
	Refused bool   `json:"refused,omitempty"`
	Words   string `json:"words,omitempty"`
}

func (a *Answered) check() error {
	if a.Refused && strings.TrimSpace(a.Words) == "" {
		return form.Bad("payload.words", "must say why it is not acknowledged")
	}
	return words("words", a.Words)
}

func (p *Answered) apply(f *fold, h *held) {
	f.answer(h, p)
}

// answer takes the student's answer: the latest stands.
func (f *fold) answer(h *held, p *Answered) {
	f.state.Acknowledged = !p.Refused
	f.state.Answer = &Answer{Event: h.ID, Answered: *p, At: cmp.Or(h.Received, h.Wall)}
}
