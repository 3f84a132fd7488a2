package calc

import (
	"encoding/json"
	"strings"

	"jetprimer/core/form"
	"jetprimer/core/weather"
)

// metar reads a weather report; see weather.ParseReport.
var metar = Definition{
	Name: "metar", Title: "Weather report",
	Rule:   "Wind, setting and temperature come from the report; what is not written down is guessed.",
	Source: "WMO No. 306, FM 15",
	Fields: []form.Field{text("text", "report", func(f *form.Field) { f.Max = 4000 })},
	run: func(in input) (form.Object, []Advice, error) {
		r := weather.ParseReport(in.Text("text"))
		data, err := json.Marshal(r)
		if err != nil {
			return nil, nil, err
		}
		var advice []Advice
		if len(r.Unknown) > 0 {
			advice = append(advice, Advice{
				"unknown", "Not understood, and kept as written: " + strings.Join(r.Unknown, " ") + ".",
			})
		}
		for _, missing := range []struct {
			code, words string
			is          bool
		}{{"no-wind", "The report gives no wind.", r.Wind == nil},
			{"no-pressure", "The report gives no altimeter setting.", r.QNHHPa == nil},
			{"no-temperature", "The report gives no temperature.", r.OATC == nil}} {
			if missing.is {
				advice = append(advice, Advice{missing.code, missing.words})
			}
		}
		var members form.Object
		err = json.Unmarshal(data, &members)
		return members, advice, err
	},
}
