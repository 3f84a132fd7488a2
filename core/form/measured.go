package form

import (
	"encoding/json"
	"strconv"

	"jetprimer/core/quantity"
)

// Measured is a number that was read in another unit than the one that rules
// use for it: {"value": 212, "unit": "°F"}. It stands in a request or a record
// in the number's place, and is compared exactly.
func Measured(n json.Number, unit string) map[string]any {
	return map[string]any{"value": n, "unit": unit}
}

// measuredDecimals is the finest that a number in another unit is read.
const measuredDecimals = 3

// measured is such a number in the field's own unit; where that is not known,
// in the unit that the one it was read in is reckoned by.
func measured(path, unit string, object map[string]any) (quantity.Value, error) {
	n, isNumber := object["value"].(json.Number)
	if f, isFloat := object["value"].(float64); isFloat {
		n, isNumber = json.Number(strconv.FormatFloat(f, 'f', -1, 64)), true
	}
	read, isText := object["unit"].(string)
	if len(object) != 2 || !isNumber || !isText {
		return quantity.Value{}, Bad(path, "must be a number, or its value and unit")
	}
	v, err := quantity.Parse(n.String(), measuredDecimals)
	if err != nil {
		return v, Bad(path+".value", "%v: %s", err, Clip(n.String()))
	}
	if unit == "" {
		unit = quantity.Base(read)
	}
	if v, err = quantity.Converted(v, read, unit); err != nil {
		return v, Bad(path+".unit", "cannot be used: a number in %s %v", Clip(unit), err)
	}
	return v, nil
}

// Plain is an object with its measured numbers in the fields' own units, as
// they are drawn.
func (t Tachometer) Plain(object map[string]any, fields []Field) map[string]any {
	out := make(map[string]any, len(object))
	for name, value := range object {
		f, known := Find(fields, name)
		out[name] = value
		switch v := value.(type) {
		case map[string]any:
			if known && f.Kind == Number {
				out[name] = plain(v, t.UnitOf(f))
			} else if known {
				out[name] = t.Plain(v, f.Each)
			}
		case []any:
			rows := make([]any, len(v))
			for i, row := range v {
				rows[i] = row
				if inner, ok := row.(map[string]any); ok && known {
					rows[i] = t.Plain(inner, f.Each)
				}
			}
			out[name] = rows
		}
	}
	return out
}

func plain(object map[string]any, unit string) any {
	if v, err := measured("", unit, object); err == nil {
		return json.Number(v.String())
	}
	return nil
}
