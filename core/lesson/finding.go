package lesson

import (
	"cmp"
	"slices"
	"strings"

	"jetprimer/core/form"
)

// KindFinding is something about the aircraft.
const KindFinding = "finding"

func init() {
	kinds[KindFinding] = func() payload { return new(finding) }
	touches["finding"] = (*touch).finding
	touches["noted-finding"] = func(t *touch) error {
		t.add(KindFinding, finding{Item: t.mark.Item, Words: "To be said in the debrief.", Noted: true})
		return nil
	}
}

type finding struct {
	Item string `json:"item,omitempty"`
	// Reading is the id of the reading event that the finding rests on.
	Reading string `json:"reading,omitempty"`
	Code    string `json:"code,omitempty"`
	Words   string `json:"words"`
	// Pictures are the SHA-256 of each, in hexadecimal.
	Pictures []string `json:"pictures,omitempty"`
	// Noted says that the words are still to come; AtMs is when it was noted,
	// where they have come.
	Noted bool  `json:"noted,omitempty"`
	AtMs  int64 `json:"atMs,omitempty"`
}

// isHash reports whether a text is a SHA-256 in hexadecimal, small letters.
func isHash(text string) bool {
	return len(text) == 64 && strings.Trim(text, "0123456789abcdef") == ""
}

// MaxPictures is how many pictures a finding can have.
const MaxPictures = 4

func (f *finding) check() error {
	if strings.TrimSpace(f.Words) == "" {
		return form.Bad("payload.words", "must say what was found")
	}
	if len(f.Pictures) > MaxPictures {
		return form.Bad("payload.pictures", "must be at most %d", MaxPictures)
	}
	if f.AtMs < 0 || f.AtMs > MaxAtMs {
		return form.Bad("payload.atMs", "must be 0 to a week in milliseconds")
	}
	for _, hash := range f.Pictures {
		if !isHash(hash) {
			return form.Bad("payload.pictures", "must be named by their SHA-256, 64 hexadecimal digits each")
		}
	}
	return words("words", f.Words)
}

func (p *finding) apply(f *fold, h *held) {
	f.state.Findings = append(f.state.Findings, Finding{
		Event: h.ID, Item: p.Item, Reading: p.Reading, Code: p.Code, Words: p.Words, Pictures: p.Pictures,
		Noted: p.Noted, AtMs: cmp.Or(p.AtMs, h.AtMs),
	})
}

// finding writes down something abnormal together with what was decided.
func (t *touch) finding() error {
	return t.writeFinding(t.state.DecisionsWith(Finding{Item: t.mark.Item, Reading: t.mark.About, AtMs: t.stamp.AtMs}))
}

// writeFinding writes down a finding with one of the decisions that are open.
func (t *touch) writeFinding(open []string) error {
	m := t.mark
	switch {
	case strings.TrimSpace(m.Words) == "":
		return form.Bad("words", "is not said yet")
	case m.Decision == "":
		return form.Bad("decision", "is not chosen yet")
	}
	if err := m.complete(); err != nil {
		return err
	}
	if slices.Contains(Decisions, m.Decision) && !slices.Contains(open, m.Decision) {
		return form.Bad("decision", "needs a later try of the check that is without the finding: test again first")
	}
	id := t.add(KindFinding, finding{
		Item: m.Item, Reading: m.About, Words: strings.TrimSpace(m.Words), Pictures: m.Pictures,
	})
	t.add(KindDecision, decision{
		About: id, Decision: m.Decision, Told: strings.TrimSpace(m.Told), Why: strings.TrimSpace(m.Why),
	})
	return nil
}
