package calc_test

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/catalog"
	"jetprimer/core/calc"
	"jetprimer/core/quantity"
)

// TestTheSheetOfEveryType: a whole day on every shipped type at every aerodrome:
// each line once with its source, what a type does not have is neither asked nor
// shown, and the student's own numbers stand beside the computed ones.
func TestTheSheetOfEveryType(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		for _, field := range c.Aerodromes {
			typed := calc.FreshDay(quantity.Units{})
			typed.Report = "METAR " + field.ID + " 241150Z 20008G14KT 9999 FEW040 04/02 Q1009"
			typed.Left, typed.Right, typed.Run, typed.Over50, typed.Power = "40", "32", "320", "560", "20"
			sheet := calc.PlanDay(typed, typ, nil, field, c.Icing)
			name := typ.ID + " " + field.ID
			seen := map[string]calc.Line{}
			for _, l := range sheet.Lines {
				assert.NotContains(t, seen, l.ID, name)
				assert.NotEmpty(t, l.Label, "%s %s", name, l.ID)
				assert.NotEmpty(t, l.Source, "%s %s", name, l.ID)
				assert.NotEmpty(t, l.Value, "%s %s", name, l.ID)
				seen[l.ID] = l
			}
			assert.Contains(t, seen, "qnh", name)
			assert.Contains(t, seen, "da", name)
			assert.Equal(t, typ.Prime != nil, seen["prime"].ID != "", name)
			assert.Equal(t, typ.Power != nil, seen["power"].ID != "", name)
			assert.Equal(t, typ.Prime != nil, sheet.Asks.Engine, name)
			assert.Equal(t, typ.Class == "helicopter", sheet.Asks.HoverPower, name)
			if typ.EngineKind != "piston" {
				assert.NotContains(t, seen, "ice", "%s: no carburettor, no band", name)
			}
			require.Len(t, sheet.Runways, len(field.Runways), name)
			within := true
			for _, r := range sheet.Runways {
				assert.Contains(t, []string{"within", "out"}, r.State, name)
				assert.False(t, !within && r.State == "within", "%s: runways within limits come first", name)
				within = r.State == "within"
				assert.NotEmpty(t, r.Words, name)
			}
			assert.NotEmpty(t, sheet.Nose, name)
			assert.Empty(t, sheet.Wrong, name)
			assert.Equal(t, sheet.Runway != "", len(sheet.Sentences) > 0, "%s: a brief is for a runway", name)

			for _, s := range sheet.Sentences { // a number without its unit could not be said in another
				plain := strings.NewReplacer("Runway "+sheet.Runway, "", "towards "+sheet.Runway, "").Replace(s.Text)
				for _, n := range bare.FindAllString(plain, -1) {
					assert.Fail(t, "a bare number", "%s: %q in %q", name, n, s.Text)
				}
			}

			typed.Own = map[string]string{}
			for id, l := range seen {
				typed.Own[id] = l.Value
			}
			for _, l := range calc.PlanDay(typed, typ, nil, field, c.Icing).Lines {
				require.NotNil(t, l.Own, "%s %s", name, l.ID)
				assert.Equal(t, "within", l.Own.State, "%s %s: %s is the computed one itself", name, l.ID, l.Value)
			}
			for id := range seen {
				typed.Own[id] = "far off"
			}
			for _, l := range calc.PlanDay(typed, typ, nil, field, c.Icing).Lines {
				assert.NotEqual(t, "within", l.Own.State, "%s %s", name, l.ID)
			}
		}
	}
}

// bare is a number with no unit behind it.
var bare = regexp.MustCompile(`[0-9]+(?:\.[0-9]+)?(?:[,;:]|\.\s|\.$|$| (?:until|from|on|then|per)\b)`)

// TestTheSheetTakesWhateverIsTyped: nothing of it stops the sheet, what cannot
// be used is said by its calculator, and nothing is computed of it.
func TestTheSheetTakesWhateverIsTyped(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	known := map[string]bool{}
	for _, d := range calc.All() {
		known[d.Name] = true
	}
	text := rapid.OneOf(rapid.String(),
		rapid.SampledFrom([]string{
			"", "420", "3x", "-1", "1e9", "9,5", "NaN", " 7 ", "XTHW 241150Z VRB03KT 9999 34/12 Q0996", "XTHW 24115",
			strings.Repeat("9", 400),
		}))
	rapid.Check(t, func(t *rapid.T) {
		typ := rapid.SampledFrom(c.Types).Draw(t, "type")
		typed := calc.FreshDay(quantity.Units{})
		for _, into := range []*string{
			&typed.Report, &typed.StudentCross, &typed.Left, &typed.Right, &typed.Run, &typed.Over50, &typed.Power,
			&typed.TurnBack, &typed.Runway, &typed.Said,
		} {
			*into = text.Draw(t, "typed")
		}
		typed.Own = map[string]string{"qnh": text.Draw(t, "own"), "no-such": "1"}
		sheet := calc.PlanDay(typed, typ, nil, rapid.SampledFrom(c.Aerodromes).Draw(t, "field"), c.Icing)
		for name, why := range sheet.Wrong {
			assert.True(t, known[name], name)
			assert.NotEmpty(t, why)
		}
	})
}

// TestEveryCalculatorIsDescribed: its schema asks for nothing that it does not
// take.
func TestEveryCalculatorIsDescribed(t *testing.T) {
	schemas := calc.Schemas()
	for _, d := range calc.All() {
		schema := schemas[d.Name]
		require.NotNil(t, schema, d.Name)
		assert.Equal(t, "object", schema["type"], d.Name)
		properties, ok := schema["properties"].(map[string]any)
		require.True(t, ok, d.Name)
		required, _ := schema["required"].([]string)
		for _, name := range required {
			assert.Contains(t, properties, name, d.Name)
		}
		for _, f := range d.Fields {
			assert.Contains(t, properties, f.Name, d.Name)
		}
	}
	assert.Len(t, schemas, len(calc.All()))
}
