package lesson

import (
	"cmp"
	"encoding/json"
	"errors"

	"jetprimer/core/form"
)

// ParseEvent reads one event as a tablet sends it. Fields that are not known
// are passed over, since an older program meets newer tablets; what the server
// adds is taken out. The error is an form.Problem that names the field.
func ParseEvent(data []byte) (Event, error) {
	var e Event
	if form.Depth(data) > form.MaxDepth {
		return e, form.Bad("event", "nests deeper than %d levels", form.MaxDepth)
	}
	at, reason := form.Unholdable(data)
	var wrongType *json.UnmarshalTypeError
	switch err := json.Unmarshal(data, &e); {
	case errors.As(err, &wrongType):
		return e, form.Bad(wrongType.Field, "must be a %s, not a %s", wrongType.Type, wrongType.Value)
	case err != nil:
		return e, form.Bad("event", "is not valid JSON: %v", err)
	case reason != "":
		return e, form.Bad(cmp.Or(form.FieldAt(data, at), "event"), "%s", reason)
	}
	e.By, e.Received = "", ""
	return e, exact("", data, &e)
}

// exact refuses a text that two readers could read differently.
func exact(where string, data []byte, v any) error {
	var two form.Problem
	if errors.As(form.Exact(where, data, v), &two) {
		return form.Bad(two.Field, "%s", two.Reason)
	}
	return nil
}
