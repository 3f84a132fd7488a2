package catalog_test

import (
	"io/fs"
	"os"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
)

func TestShippedCatalogIsWhole(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	shown := map[string]map[string]bool{}
	for _, list := range c.Lists {
		typ, _ := c.Type(list.AircraftType)
		if shown[typ.Class] == nil {
			shown[typ.Class] = map[string]bool{}
		}
		for _, p := range list.Places() {
			for _, e := range append(p.Item.Elements, p.Item.Knowledge...) {
				shown[typ.Class][e] = true
			}
		}
	}
	for _, pack := range c.Packs {
		assert.NotEmpty(t, pack.Note)
		for _, class := range pack.Classes {
			for _, e := range pack.For(class) {
				assert.True(t, shown[class][e.ID],
					"no item of a list for %s shows %s, so no student could ever be ready", class, e.ID)
			}
		}
	}
	for _, id := range []string{"independence", "five", "satisfactory"} {
		_, ok := c.Scale(id)
		assert.True(t, ok, id)
	}
}

// edited is the shipped catalog with one file changed.
func edited(t *testing.T, file, old, with string) fs.FS {
	t.Helper()
	files := fstest.MapFS{}
	root := os.DirFS(".")
	require.NoError(t, fs.WalkDir(root, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(name, ".yaml") {
			return err
		}
		data, err := fs.ReadFile(root, name)
		if name == file {
			require.Contains(t, string(data), old)
			data = []byte(strings.Replace(string(data), old, with, 1))
		}
		files[name] = &fstest.MapFile{Data: data}
		return err
	}))
	return files
}

func TestMistakesNameFileLineAndReason(t *testing.T) {
	alder, list, stock := "types/alder-110.yaml", "checklists/alder-110.yaml", "stock/run-up.yaml"
	for _, c := range []struct{ file, old, with, want string }{
		{alder, "engineKind: piston", "engineKind: steam", alder + `:6: engineKind "steam" is none of`},
		{alder, "engines: 1", "engines: one", alder + ":8: "},
		{alder, "propeller: fixed", "propellor: fixed", alder + `:11: unknown field "propellor"`},
		{alder, "dropMin: 20", "dropMin: 140",
			alder + ":83: limits.magneto limits.dropMin (140) is above dropMax (130)"},
		{alder, "dropMax: 130, ", "", alder + ":83: limits.magneto limits.dropMax is missing"},
		{
			alder, "{id: fuelPressure, label", "{id: fuel, label",
			"limits.gauges.fuelPressure has limits but is not among the type's gauges",
		},
		{
			"types/hornbeam-twin.yaml", "startOrder: [1, 2]", "startOrder: [1, 1]",
			"startOrder must name each of the 2 engines once",
		},
		{"types/willow-t5.yaml", "hold: [cold, low-altitude]", "hold: [warm]", `power.hold[0] "warm" is none of`},
		{list, "      - covers", "      - papers", list + `:15: phases[0].items[4].id "papers" is empty or used twice`},
		{list, "      - covers", "      - cover", list + `:15: phases[0].items[4] "cover" is not in the stock`},
		{
			stock, "after: [brakes-set]", "after: [brakes-sat]",
			`after[0] "brakes-sat" is no item that stands before this one`,
		},
		{
			stock, "check: carb-heat", "check: carb-cold",
			`check "carb-cold" is no check that the Alder 110 has limits for`,
		},
		{stock, "elements: [bto-placed]", "elements: [bto-place]", `elements[0] "bto-place" is in no standards pack`},
		{stock, "place: levers", "place: lever", `"lever" is no place in the cockpit`},
		{
			stock, "densityAltitude > 3000 ft", "densityAltitude > 3000 kt",
			`column 24: "kt" is no unit of densityAltitude, which is in ft`,
		},
		{stock, "fitted(alternate-air)", "fitted(alternator-air)", `"alternator-air" is equipment of no type`},
		{stock, "critical: true", "critical: very", stock + `:3: brakes-held`},
		{
			"standards/school-core.yaml", "kind: skill", "kind: talent",
			`standards/school-core.yaml:14: tasks[0].elements[0].kind "talent"`,
		},
		{"policies/scales.yaml", "shows: [1], means: 1", "shows: [0, 1], means: 1",
			"level 0 shows as 2 steps, not one"},
		{"questions/questions.yaml", "kind: limit", "kind: limits", `kind "limits" is none of`},
		{"questions/questions.yaml", "check: charging", "check: chargin", `"chargin" is no check`},
		{"questions/questions.yaml", "types: [sorrel-100]", "types: [sorrel]", `"sorrel" is no known aircraft type`},
		{
			"questions/questions.yaml", "elements: [deck-right-list]", "elements: [deck-left-list]",
			`"deck-left-list" is in no standards pack`,
		},
		{"policies/procedures.yaml", "title: Clearing a fouled plug", "title: ''",
			"needs id, title, cautions and steps"},
		{"policies/procedures.yaml", "seconds: 30", "seconds: -30", "no time below zero"},
		{"types/alder-110.yaml", "hotWithinMinutes: 25", "hotWithinMinutes: 95", "warmWithinMinutes above it"},
		{"policies/progress.yaml", "lapseDays: 60", "lapseDays: 0", "lapseDays must be 1 or more"},
	} {
		_, err := catalog.Load(edited(t, c.file, c.old, c.with))
		if assert.Error(t, err, c.with) {
			assert.Contains(t, err.Error(), c.want)
		}
	}
}

// TestActsThatCannotBe: how items show on the stand is read as strictly as the rest.
func TestActsThatCannotBe(t *testing.T) {
	text, err := os.ReadFile("practice/acts.yaml")
	require.NoError(t, err)
	for line, want := range map[string]string{
		"- {item: x, stands: [{control: parachute, least: 1}]}": `names "parachute", which is no control`,
		"- {item: x}": "is either said or shows by controls",
		"- {item: x, said: true, moved: [{control: master, least: 1}]}": "is either said or shows by controls",
		"- {said: true}": "names no item",
		"- {item: x, stands: [{control: throttle, least: 2}]}": "asks throttle for what it cannot be",
		"- {item: x, stands: [{control: throttle}]}":           "asks throttle for what it cannot be",
		"- {item: x, colour: red}":                             "colour",
	} {
		files := shippedWith(t, "practice/acts.yaml", string(text)+line+"\n")
		_, err := catalog.Load(files)
		require.Error(t, err, line)
		assert.Contains(t, err.Error(), want)
		assert.Contains(t, err.Error(), "practice/acts.yaml:")
	}
}

// shippedWith are the shipped files with one of them in other words.
func shippedWith(t *testing.T, name, text string) fs.FS {
	t.Helper()
	files := fstest.MapFS{}
	require.NoError(t, fs.WalkDir(os.DirFS("."), ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".yaml") || strings.HasPrefix(path, "testdata") {
			return err
		}
		data, err := os.ReadFile(path)
		files[path] = &fstest.MapFile{Data: data}
		return err
	}))
	files[name] = &fstest.MapFile{Data: []byte(text)}
	return files
}

func TestEveryMistakeIsReportedAtOnce(t *testing.T) {
	_, err := catalog.Load(fstest.MapFS{"types/a.yaml": {Data: []byte("id: [\n")}})
	require.Error(t, err)
	for _, want := range []string{"types/a.yaml:", "standards:0", "checklists:0", "policies/scales.yaml:0"} {
		assert.Contains(t, err.Error(), want)
	}
}
