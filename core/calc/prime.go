package calc

import (
	"fmt"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// prime finds the plan of the start in the type's own table, by the state of
// the engine and the outside air.
var prime = Definition{
	Name: "prime", Title: "Prime for the start",
	Rule: "A cold engine needs fuel it can burn, a hot one has too much: the plan is made before the hand is on " +
		"the starter.",
	Source: "the type's own table",
	Fields: []form.Field{aircraftTypeField,
		{
			Name: "engineState", Label: "engine", Kind: form.Choice, Choices: []string{"cold", "warm", "hot"},
			Optional: true,
		},
		number("lastRunMinutes", "minutes since it ran", "min", 0, optional),
		number("oatC", "outside air", "°C", 1, signed)},
	run: runPrime,
}

func runPrime(in input) (form.Object, []Advice, error) {
	table := in.typ.Prime
	if table == nil {
		return nil, nil, form.Bad("aircraftType", "the %s has no table for priming", in.typ.Name)
	}
	state := in.Text("engineState")
	switch {
	case state != "" && in.Has("lastRunMinutes"):
		return nil, nil, form.Bad("lastRunMinutes", "stands beside engineState: give one of the two")
	case state == "" && !in.Has("lastRunMinutes"):
		return nil, nil, form.Bad("engineState", "is missing: one of cold, warm, hot, or lastRunMinutes")
	case state == "":
		state = engineState(in.Value("lastRunMinutes"), *table)
	}
	oat := in.Value("oatC")
	if err := within("oatC", oat, -60, 60, "°C"); err != nil {
		return nil, nil, err
	}
	i := slices.IndexFunc(table.Rows, func(r aircraft.PrimeRow) bool {
		return r.Engine == state && (r.BelowC == nil || oat.Float() < *r.BelowC)
	})
	if i < 0 {
		return nil, nil, form.Bad("engineState", "%q has no row in the table of the %s for %s °C", state, in.typ.Name,
			oat)
	}
	row := table.Rows[i]
	preheat := state == "cold" && oat.Float() < table.PreheatBelowC
	advice := []Advice{}
	if preheat {
		advice = append(advice, Advice{
			"preheat",
			fmt.Sprintf("Below %g °C the engine is warmed before it is cranked: cold oil does not reach its bearings.",
				table.PreheatBelowC),
		})
	}
	if row.Note != "" {
		advice = append(advice, Advice{"note", sentence(row.Note)})
	}
	lever := "throttle"
	if in.typ.Has("power-lever") {
		lever = "power lever"
	}
	flooded := fmt.Sprintf("If it floods: %s %s.", lever, table.Flooded.Throttle)
	var mixture any
	if in.typ.Has("mixture") {
		flooded = fmt.Sprintf("If it floods: %s %s, mixture %s.", lever, table.Flooded.Throttle, table.Flooded.Mixture)
		mixture = row.Mixture
	}
	if table.Flooded.Note != "" {
		flooded += " " + sentence(table.Flooded.Note)
	}
	if in.typ.Has("diesel") {
		flooded = sentence(table.Flooded.Note)
	}
	if flooded != "" {
		advice = append(advice, Advice{"if-flooded", flooded})
	}
	return form.Object{member("engineState", state), member("method", row.Method),
		member("amount", rounded(row.Amount, 1)), member("unit", row.Unit),
		member("throttle", row.Throttle), member("mixture", mixture), member("preheat", preheat)}, advice, nil
}

// engineState tells from the minutes since an engine ran how warm it still is.
func engineState(minutes quantity.Value, table aircraft.Prime) string {
	switch {
	case !minutes.Above(quantity.Scaled(int64(table.HotWithinMinutes), 0)):
		return "hot"
	case !minutes.Above(quantity.Scaled(int64(table.WarmWithinMinutes), 0)):
		return "warm"
	}
	return "cold"
}

// sentence begins with a capital letter and ends with a full stop.
func sentence(words string) string {
	if words == "" {
		return ""
	}
	out := []rune(words)
	if out[0] >= 'a' && out[0] <= 'z' {
		out[0] -= 'a' - 'A'
	}
	if last := out[len(out)-1]; last != '.' {
		out = append(out, '.')
	}
	return string(out)
}
