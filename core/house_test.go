package core_test

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/scanner"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/calc"
	"jetprimer/core/check"
)

// sources are the parsed files of core, without their tests.
func sources(t *testing.T) map[string]*ast.File {
	files := map[string]*ast.File{}
	require.NoError(t, filepath.WalkDir(".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(name, ".go") || strings.HasSuffix(name, "_test.go") {
			return err
		}
		file, err := parser.ParseFile(token.NewFileSet(), name, nil, 0)
		files[filepath.ToSlash(name)] = file
		return err
	}))
	return files
}

// TestCoreHasNoClock: what is computed depends on what is given, never on when.
func TestCoreHasNoClock(t *testing.T) {
	clocked := []string{
		"Now", "Since", "Until", "Sleep", "After", "AfterFunc", "Tick", "NewTimer", "NewTicker", "Local",
	}
	for name, file := range sources(t) {
		ast.Inspect(file, func(n ast.Node) bool {
			if s, ok := n.(*ast.SelectorExpr); ok {
				if pkg, ok := s.X.(*ast.Ident); ok && pkg.Name == "time" {
					assert.NotContains(t, clocked, s.Sel.Name, "%s reads a clock", name)
				}
			}
			return true
		})
	}
}

// TestOneFileACheck: each check and each calculator is declared in one file,
// and its name stands in no other of core.
func TestOneFileACheck(t *testing.T) {
	names := map[string]bool{}
	for _, d := range check.All() {
		names["check "+d.Name] = true
	}
	for _, d := range calc.All() {
		names["calc "+d.Name] = true
	}
	in := map[string][]string{}
	for name, file := range sources(t) {
		pkg := strings.Split(name, "/")[0]
		seen := map[string]bool{}
		ast.Inspect(file, func(n ast.Node) bool {
			lit, ok := n.(*ast.CompositeLit)
			if !ok {
				return true
			}
			if typ, named := lit.Type.(*ast.Ident); !named || typ.Name != "Definition" {
				return true
			}
			for _, e := range lit.Elts {
				kv, ok := e.(*ast.KeyValueExpr)
				if !ok {
					continue
				}
				key, isKey := kv.Key.(*ast.Ident)
				if v, isText := kv.Value.(*ast.BasicLit); isKey && isText && key.Name == "Name" {
					seen[pkg+" "+strings.Trim(v.Value, `"`)] = true
				}
			}
			return true
		})
		for n := range seen {
			in[n] = append(in[n], name)
		}
	}
	for n := range names {
		assert.Len(t, in[n], 1, "%s is declared in %v", n, in[n])
	}
}

// allowed are the words of the job that the screens may hold, each with why.
var allowed = map[string]string{
	"done":       "the one mark that is drawn large",
	"self-fixed": "in a flow it is called otherwise on its button",
	"error":      "opens a dialog", "finding": "opens a dialog", "undo": "has a key of its own",
	"flow-then-verify":       "the method that calls a mark otherwise",
	"challenge-and-response": "the method of two people, whose answers are shown",
	"consolidated":           "drawn", "to standard": "drawn", "practising": "drawn", "introduced": "drawn",
	"lapsed": "drawn", "not seen": "drawn",
	"read-and-do": "what is chosen at first", "guided": "what is chosen at first",
	"training":    "what is chosen at first",
	"stage-check": "is said of a lesson in a list",
	"abnormal":    "a field of an item", "caution": "a field of an item", "instructor": "the rank of a layer",
}

// judged matches what only the rules may do: compare a number with a limit, and
// name a check, an outcome, an event or the element of a limit.
var judged = regexp.MustCompile(
	`dropMax|apartMax|cautionM(in|ax)|(min|max)Seconds|imbalanceMax|crosswindKt|tailwindKt|variationDeg|outcome === '|decision === 'stop|'(item-result|item-opened|phase-closed|grade-override|lesson-ended|debrief-note|addendum)'`,
)

// TestNoJobLogicInTheScreens: TypeScript lays out, takes touches and draws. The
// marks, methods, standings and outcomes of the job are named in the rules; a
// screen that names one does so for a reason that stands here.
func TestNoJobLogicInTheScreens(t *testing.T) {
	ids := regexp.MustCompile(
		`'(done|prompted|helped|wrong|self-fixed|left-out|not-fitted|unsafe|read-and-do|flow-then-verify|challenge-and-response|training|stage-check|consolidated|to standard|practising|introduced|lapsed|not seen|normal|caution|invalid|abnormal|carried-on|cleared|deferred|grounded|normal-for-type|chief|instructor|examiner|maintenance|admin|alone|guided|checkride)'`,
	)
	drawing := map[string]string{"shared/StepTrace.vue": "the line of the lowest allowed",
		"shared/TapeTick.vue": "a shape for each mark",
		"sites/sites.ts":      "a base as it is typed", "sites/SiteFields.vue": "the fields of a base",
		"sites/place.test.ts": "a base as the school answers with it"}
	seen := 0
	require.NoError(t, filepath.WalkDir("../web/src", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.Contains(name, ".gen.") || !strings.HasSuffix(name, ".ts") &&
			!strings.HasSuffix(name, ".vue") {
			return err
		}
		seen++
		data, err := os.ReadFile(name)
		short, _ := filepath.Rel("../web/src", name)
		for i, line := range strings.Split(string(data), "\n") {
			if hit := judged.FindString(line); hit != "" && drawing[short] == "" {
				t.Errorf("%s:%d %s: the rules judge, the screens draw", short, i+1, hit)
			}
			for _, id := range ids.FindAllStringSubmatch(line, -1) {
				if allowed[id[1]] == "" && drawing[short] == "" {
					t.Errorf("%s:%d names '%s': a word of the job that is not on the short list", short, i+1, id[1])
				}
			}
		}
		return err
	}))
	assert.Greater(t, seen, 40)
}

// TestDocsNameFilesThatExist: a file that is moved is moved in what is said of it.
func TestDocsNameFilesThatExist(t *testing.T) {
	docs, err := filepath.Glob("../docs/*.md")
	require.NoError(t, err)
	named := regexp.MustCompile("`((?:[\\w-]+/)+[\\w.-]+\\.(?:go|ts|vue|mjs|yaml|sh|json))`")
	n := 0
	for _, doc := range append(docs, "../README.md", "../CONTRIBUTING.md") {
		data, err := os.ReadFile(doc)
		require.NoError(t, err)
		for _, m := range named.FindAllStringSubmatch(string(data), -1) {
			n++
			_, fromRoot := os.Stat("../" + m[1])
			_, fromScreens := os.Stat("../web/src/" + m[1])
			assert.True(t, fromRoot == nil || fromScreens == nil, "%s names %s", doc, m[1])
		}
	}
	assert.Greater(t, n, 40)
}

// TestLinesFit: of Go's lines, raw texts aside, one in six hundred is wider than 120
// columns, and none much wider.
func TestLinesFit(t *testing.T) {
	lines, wide := 0, []string{}
	require.NoError(t, filepath.WalkDir("..", func(name string, d fs.DirEntry, err error) error {
		if err == nil && d.IsDir() && d.Name() == "node_modules" {
			return filepath.SkipDir
		}
		if err != nil || !strings.HasSuffix(name, ".go") {
			return err
		}
		data, err := os.ReadFile(name)
		raw := rawLines(data)
		for i, line := range strings.Split(string(data), "\n") {
			lines++
			if n := utf8.RuneCountInString(strings.ReplaceAll(line, "\t", "    ")); n > 120 && !raw[i+1] {
				wide = append(wide, fmt.Sprintf("%s:%d: %s", name, i+1, line))
				assert.LessOrEqual(t, n, 132, wide[len(wide)-1])
			}
		}
		return err
	}))
	assert.LessOrEqual(t, len(wide), lines/600, strings.Join(wide, "\n"))
}

// rawLines are the numbers of a file's lines on which a raw text stands.
func rawLines(source []byte) map[int]bool {
	raw, set := map[int]bool{}, token.NewFileSet()
	var s scanner.Scanner
	s.Init(set.AddFile("", -1, len(source)), source, nil, 0)
	for pos, tok, text := s.Scan(); tok != token.EOF; pos, tok, text = s.Scan() {
		for i := range strings.Count(text, "\n") + 1 {
			raw[set.Position(pos).Line+i] = raw[set.Position(pos).Line+i] || strings.HasPrefix(text, "`")
		}
	}
	return raw
}
