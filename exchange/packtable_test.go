package exchange_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/standard"
	"jetprimer/exchange"
)

// TestPacksComeBackFromTheirTables: every pack that ships, with what it replaces.
func TestPacksComeBackFromTheirTables(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, p := range c.Packs {
		first := p.Tasks[0].Elements[0].ID
		p.Replaces = []standard.Replaced{
			{From: "old-a", To: first, Why: "the same, in other words"}, {From: "old-b", To: first, Why: "part of it"},
		}
		data, err := exchange.WriteFile(p, "csv", exchange.Card{})
		require.NoError(t, err)
		back, mistakes, err := exchange.ReadFile("pack", "csv", "pack.csv", data)
		require.NoError(t, err)
		require.Empty(t, mistakes, p.ID)
		got := back.(standard.Pack)
		for i, task := range p.Tasks { // a list without entries is none
			for e := range task.Elements {
				if len(task.Elements[e].Classes) == 0 {
					got.Tasks[i].Elements[e].Classes = task.Elements[e].Classes
				}
			}
		}
		assert.Equal(t, p.Tasks, got.Tasks, p.ID)
		assert.Equal(t, p.Replaces, got.Replaces)
	}
}

// TestPackTablesNameWhatIsWrong: with line and column.
func TestPackTablesNameWhatIsWrong(t *testing.T) {
	for table, want := range map[string]string{
		"":                              "p.csv:1: has no row of column names",
		"task,kind\na,skill\n":          `p.csv:1: lacks the column "text"`,
		"task,kind,text,song\n":         `p.csv:1: has the column "song"; known: task`,
		"task,kind,text,kind\n":         `p.csv:1: has the column "kind" twice`,
		"task,kind,text\n,skill,x\n":    "p.csv:2: names no task",
		"task,kind,text\na,feat,x\n":    `p.csv:2: has the kind "feat", which is none of knowledge, risk, skill`,
		"task,kind,text\na,skill,\n":    "p.csv:2: has no text",
		"task,kind,text\n":              "p.csv:0: has no row with an element",
		"task,kind,text\na,skill,\"x\n": "p.csv:2: ",
	} {
		_, mistakes := exchange.ReadPackTable("p.csv", []byte(table))
		if assert.NotEmpty(t, mistakes, table) {
			assert.Contains(t, mistakes[0].Error(), want, table)
		}
	}
	pack, mistakes := exchange.ReadPackTable("p.csv",
		[]byte("Task;Kind;Text\nstart;Skill;starts it well\n;risk;the propeller\n"))
	require.Empty(t, mistakes)
	assert.Equal(t, []standard.Task{
		{
			ID: "start", Title: "start",
			Elements: []standard.Element{
				{ID: "starts-it-well", Kind: "skill", Text: "starts it well", Classes: []string{}},
				{ID: "the-propeller", Kind: "risk", Text: "the propeller", Classes: []string{}},
			},
		},
	}, pack.Tasks)
}

func FuzzPackTable(f *testing.F) {
	f.Add([]byte("task,kind,text\na,skill,x\n"))
	f.Add([]byte("task\tkind\ttext\treplaces\twhy\na\trisk\tx\told\tsame\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		pack, mistakes := exchange.ReadPackTable("p.csv", data)
		if len(mistakes) > 0 {
			return
		}
		again, err := exchange.WritePackTable(pack)
		require.NoError(t, err)
		_, mistakes = exchange.ReadPackTable("p.csv", again)
		assert.Empty(t, mistakes)
	})
}
