package catalog_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
)

// partWords are words that only a type with the part may be told.
var partWords = []struct {
	part string
	word *regexp.Regexp
}{
	{"mixture", regexp.MustCompile(`(?i)\bmixture|\bleaning\b|\bleaner\b|\bruns? lean\b|\bto lean\b|\bover-rich\b`)},
	{"leaning", regexp.MustCompile(`\b[Ll]ean (the|it|until|on the ground)|\bleaned\b`)},
	{"tank-choice", regexp.MustCompile(`(?i)\b(fuller|lower tank|emptier)`)},
	{"magnetos", regexp.MustCompile(`(?i:\bmagneto)|\bBOTH\b`)},
	{"lanes", regexp.MustCompile(`(?i)\blanes?\b`)},
	{"ignition", regexp.MustCompile(`(?i)\bplugs? (is |are )?(fouled|oily)|\bfouled\b|\bspark`)},
	{"propeller", regexp.MustCompile(`(?i)\bpropeller`)},
	{"rotor", regexp.MustCompile(`(?i)\brotor|\bcollective|\bhover|\btail boom|\bautorotation`)},
	{"choke", regexp.MustCompile(`(?i)\bchoke`)},
	{"carburettor", regexp.MustCompile(`(?i)\bcarburett?or|\bcarb\b`)},
	{"glow", regexp.MustCompile(`(?i)\bglow (lamp|plug)|\bglow;|\bglow,`)},
	{"injection", regexp.MustCompile(`(?i)\bvapou?r\b|\bvapour-lock`)},
	{"feathering", regexp.MustCompile(`(?i)\bfeather`)},
	{"clutch", regexp.MustCompile(`(?i)\bclutch`)},
	{"retractable-gear", regexp.MustCompile(`(?i)\bgear (up|down|lever|lights|lamps)`)},
	{"throttle", regexp.MustCompile(`(?i)\bthrottle`)},
	{"engines-two", regexp.MustCompile(`(?i)\bboth engines|\bother engine|\bone engine\b|\bdead foot|\bblue line`)},
	{"cowl-flaps", regexp.MustCompile(`(?i)\bcowl flap`)},
	{"turbine", regexp.MustCompile(`(?i)\bspool|\blight-off|\bturbine`)},
}

// may is Has, where a word is fair for more than the part itself.
func may(t aircraft.Type, part string) bool {
	switch part {
	case "feathering":
		return t.Has("feathering") || t.Propeller == "constant-speed" && t.Engines > 1
	case "clutch":
		return t.Has("clutch") || t.Has("gearbox")
	}
	return t.Has(part)
}

// said is everything a type's people are told, each with where it stands.
func said(t *testing.T, c *catalog.Catalog, typ aircraft.Type) map[string]string {
	out := map[string]string{}
	list, _ := c.ListFor(typ.ID)
	for _, p := range list.Places() {
		i := p.Item
		out["list "+i.ID] = strings.Join(append([]string{i.Challenge, i.Response, i.Why, i.Look, i.Abnormal, i.Caution},
			i.Errors...), " | ")
	}
	for _, q := range c.QuestionsFor(typ.ID) {
		out["question "+q.ID] = q.Ask + " | " + q.Answer
	}
	for _, p := range c.ProceduresFor(typ.ID) {
		words := append([]string{p.Title}, p.Cautions...)
		for _, s := range p.Steps {
			words = append(words, s.Do, s.Look)
		}
		out["procedure "+p.ID] = strings.Join(words, " | ")
	}
	for _, def := range check.All() {
		if typ.Limits[def.Name] == nil {
			continue
		}
		for _, w := range def.CausesFor(typ) {
			out["cause "+def.Name+" "+w.Code] = w.Message
		}
		for _, w := range def.ActionsFor(typ) {
			out["action "+def.Name+" "+w.Code] = w.Message
		}
	}
	request := fmt.Sprintf(`{"aircraftType":%q,"runway":{"name":"20","headingDegMagnetic":198,"availableM":920},"wind":{"directionDeg":228,"speedKt":12},
		"performance":{"groundRunM":310,"powerNeeded":70,"powerLimit":80},"school":{"turnBackFt":900},"elevationFt":412,"densityAltitudeFt":1240}`, typ.ID)
	answer, err := calc.Run("takeoff-brief", []byte(request), calc.Tables{Type: c.Type, Icing: c.Icing})
	require.NoError(t, err)
	var brief struct {
		Values struct {
			Sentences []calc.BriefSentence
		}
	}
	require.NoError(t, json.Unmarshal(answer, &brief))
	for _, s := range brief.Values.Sentences {
		out["brief "+s.Element] = s.Text
	}
	if typ.Prime != nil {
		for i, r := range append(typ.Prime.Rows, typ.Prime.Flooded) {
			out[fmt.Sprint("prime ", i)] = strings.Join([]string{r.Method, r.Throttle, r.Mixture, r.Note}, " | ")
		}
	}
	return out
}

// TestWordsFitTheMachine: of everything that the people of a type are told,
// nothing names a thing that the type has not.
func TestWordsFitTheMachine(t *testing.T) {
	c := catalogOf(t)
	for _, typ := range c.Types {
		if typ.Version < newest(c, typ.ID) {
			continue
		}
		for where, words := range said(t, c, typ) {
			for _, p := range partWords {
				if found := p.word.FindString(words); found != "" && !may(typ, p.part) {
					assert.Fail(t, "a word that does not fit", "%s, %s: “%s” in “%s”", typ.ID, where, found, words)
				}
			}
		}
	}
}

// TestTheCorpus keeps everything that the people of each type are told, to be read
// whole. Set UPDATE_GOLDEN=1 to write it anew.
func TestTheCorpus(t *testing.T) {
	c := catalogOf(t)
	for _, typ := range newestTypes(c) {
		words := said(t, c, typ)
		var text strings.Builder
		for _, where := range slices.Sorted(maps.Keys(words)) {
			fmt.Fprintf(&text, "%s: %s\n", where, words[where])
		}
		path := filepath.Join("testdata", "corpus", typ.ID+".txt")
		if os.Getenv("UPDATE_GOLDEN") != "" {
			require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o755))
			require.NoError(t, os.WriteFile(path, []byte(text.String()), 0o644))
		}
		kept, err := os.ReadFile(path)
		require.NoError(t, err)
		assert.Equal(t, string(kept), text.String(), typ.ID)
	}
}
