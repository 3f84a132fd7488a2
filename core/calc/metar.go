package calc

import (
	"encoding/json"
	"strings"

	"jetprimer/core/check"
	"jetprimer/core/weather"
)

// metar reads a weather report; see weather.ParseReport.
var metar = Definition{
	Name: "metar", Title: "Weather report",
	Rule:   "Wind, setting and temperature come from the report; what is not written down is guessed.",
	Source: "WMO No. 306, FM 15",
	Fields: []check.Field{text("text", "report", func(f *check.Field) { f.Max = 4000 })},
	run: func(in input) (check.Object, []Advice, error) {
		r := weather.ParseReport(in.Text("text"))
		data, err := json.Marshal(r)
		if err != nil {
			return nil, nil, err
		}
		var advice []Advice
		if len(r.Unknown) > 0 {
			advice = append(advice, Advice{"unknown", "Not understood, and kept as written: " + strings.Join(r.Unknown, " ") + "."})
		}
		for _, missing := range []struct {
			code, words string
			is          bool
		}{{"no-wind", "The report gives no wind.", r.Wind == nil}, {"no-pressure", "The report gives no altimeter setting.", r.QNHHPa == nil},
			{"no-temperature", "The report gives no temperature.", r.OATC == nil}} {
			if missing.is {
				advice = append(advice, Advice{missing.code, missing.words})
			}
		}
		members, err := ordered(data)
		return members, advice, err
	},
}

// ordered reads a JSON object and keeps the order of its members.
func ordered(data []byte) (check.Object, error) {
	d := json.NewDecoder(strings.NewReader(string(data)))
	if _, err := d.Token(); err != nil {
		return nil, err
	}
	var out check.Object
	for d.More() {
		name, err := d.Token()
		if err != nil {
			return nil, err
		}
		var value json.RawMessage
		if err := d.Decode(&value); err != nil {
			return nil, err
		}
		out = append(out, member(name.(string), value))
	}
	return out, nil
}
