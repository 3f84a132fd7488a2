package standard_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/standard"
)

func sound() standard.Pack {
	return standard.Pack{ID: "p", Title: "t", Version: 1, Status: "paraphrase", Note: "n",
		Classes: []string{"single", "multi"},
		Tasks: []standard.Task{{ID: "start", Title: "Starting", Elements: []standard.Element{
			{ID: "limits", Code: "X.1", Kind: "knowledge", Text: "limits"},
			{ID: "order", Kind: "skill", Text: "order", Classes: []string{"multi"}},
		}}}}
}

func TestElementsOfAClass(t *testing.T) {
	ids := func(class string) (out []string) {
		for _, e := range sound().For(class) {
			out = append(out, e.ID)
		}
		return out
	}
	assert.Equal(t, []string{"limits"}, ids("single"))
	assert.Equal(t, []string{"limits", "order"}, ids("multi"))
}

func TestFaultsNameTheirPath(t *testing.T) {
	assert.Empty(t, sound().Problems())
	for _, c := range []struct {
		spoil func(*standard.Pack)
		want  string
	}{
		{func(p *standard.Pack) { p.Note = "" }, "note is missing"},
		{func(p *standard.Pack) { p.Version = 0 }, "version must be 1 or more"},
		{func(p *standard.Pack) { p.Classes = nil }, "classes names no class"},
		{func(p *standard.Pack) { p.Tasks = nil }, "tasks has no task"},
		{func(p *standard.Pack) { p.Tasks[0].ID = "" }, `tasks[0].id "" is empty or used twice`},
		{func(p *standard.Pack) { p.Tasks[0].Title = "" }, "tasks[0].title is missing"},
		{
			func(p *standard.Pack) { p.Tasks[0].Elements[1].ID = "limits" },
			`tasks[0].elements[1].id "limits" is empty or used twice`,
		},
		{
			func(p *standard.Pack) { p.Tasks[0].Elements[0].Kind = "talent" },
			`tasks[0].elements[0].kind "talent" is none of`,
		},
		{func(p *standard.Pack) { p.Tasks[0].Elements[0].Text = "" }, "tasks[0].elements[0].text is missing"},
	} {
		p := sound()
		c.spoil(&p)
		faults := p.Problems()
		if assert.NotEmpty(t, faults, c.want) {
			assert.Contains(t, faults[0].Error(), c.want)
		}
	}
}
