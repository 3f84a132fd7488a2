package lesson

import (
	"cmp"
	"slices"
	"strings"

	"jetprimer/core/form"
)

// KindError is an error by kind and severity.
const KindError = "error"

func init() {
	kinds[KindError] = func() payload { return new(errorMade) }
	touches["error"] = (*touch).error
	// Marked with one touch while there is no hand for words; word puts it into words later.
	touches["noted-error"] = func(t *touch) error {
		t.add(KindError, errorMade{Item: t.mark.Item, Code: notedError, Severity: "slip"})
		return nil
	}
}

type errorMade struct {
	Item     string `json:"item,omitempty"`
	Code     string `json:"code"`
	Severity string `json:"severity"`
	Words    string `json:"words,omitempty"`
	// AtMs is when it was noted, where it was put into words later.
	AtMs int64 `json:"atMs,omitempty"`
}

func (e *errorMade) check() error {
	if e.AtMs < 0 || e.AtMs > MaxAtMs {
		return form.Bad("payload.atMs", "must be 0 to a week in milliseconds")
	}
	if !slices.ContainsFunc(ErrorKinds, func(k ErrorKind) bool { return k.Code == e.Code }) {
		return form.Bad("payload.code", "%q is no kind of error", form.Clip(e.Code))
	}
	if _, ok := severityLevel[e.Severity]; !ok {
		return form.Bad("payload.severity", "must be slip, wrong or unsafe")
	}
	return words("words", e.Words)
}

func (p *errorMade) apply(f *fold, h *held) {
	f.error(h, p)
}

func (f *fold) error(h *held, p *errorMade) {
	i := slices.IndexFunc(ErrorKinds, func(k ErrorKind) bool { return k.Code == p.Code })
	e := Error{h.ID, p.Item, p.Code, ErrorKinds[i].Label, p.Severity, p.Words, cmp.Or(p.AtMs, h.AtMs)}
	if p.Code == usualError {
		e.Label, e.Words = cmp.Or(p.Words, e.Label), ""
	}
	f.state.Errors = append(f.state.Errors, e)
	if s := f.item(p.Item); s != nil {
		s.errors = append(s.errors, e)
	}
}

func (t *touch) error() error {
	severity := t.mark.Severity
	if i := slices.IndexFunc(ErrorKinds, func(k ErrorKind) bool { return k.Code == t.mark.Code }); severity == "" &&
		i >= 0 {
		severity = ErrorKinds[i].Severity
	}
	t.add(KindError, errorMade{
		Item: t.mark.Item, Code: t.mark.Code, Severity: severity, Words: strings.TrimSpace(t.mark.Words),
	})
	return nil
}
