// Package exchange reads and writes the open formats: types, lists, layers,
// memory aids and standards as YAML or JSON; lists also as a plain table (CSV),
// as a Markdown task list, and as a printed knee card. What is read is checked,
// and every mistake is reported with its file and line.
package exchange

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"path"
	"regexp"
	"strings"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"
	emit "go.yaml.in/yaml/v3"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
)

// Source is one YAML or JSON file being read, with the mistakes found so far.
type Source struct {
	Problems []form.Problem
	name     string
	data     []byte
	json     bool
	lines    map[string]int // of JSON, by paths, once asked for
	tree     *ast.File
}

// Open begins to read a file. It is JSON when it begins as an object of JSON
// does, and YAML otherwise.
func Open(name string, data []byte) *Source {
	return &Source{name: path.Clean(name), data: data, json: isJSON(data)}
}

// isJSON reports whether a file is JSON: an object that is JSON as a whole. A
// flow mapping of YAML begins alike.
func isJSON(data []byte) bool {
	return len(data) <= maxBytes && bytes.HasPrefix(bytes.TrimLeft(data, " \t\r\n"), []byte("{")) &&
		form.Depth(data) <= form.MaxDepth && json.Valid(data)
}

// Decode reads the whole file into a T and reports whether it could. A field
// that T does not have is a mistake.
func Decode[T any](s *Source) (T, bool) {
	var out, none T
	format := "yaml"
	if s.json {
		format = "json"
	}
	if why := outOfBounds(s.data, format); why != "" {
		s.add(form.Problem{Reason: why})
		return none, false
	}
	var err error
	if s.json {
		d := json.NewDecoder(bytes.NewReader(s.data))
		d.DisallowUnknownFields()
		if err = d.Decode(&out); err == nil {
			err = form.Exact("", s.data, &out)
		}
		if at, reason := form.Unholdable(s.data); err == nil && reason != "" {
			err = fmt.Errorf("%s %s", form.FieldAt(s.data, at), reason)
		}
	} else if err = s.parse(); err == nil {
		err = s.unmarshal(&out)
	}
	if err != nil {
		m := form.Problem{Reason: err.Error()}
		var located yaml.Error
		if errors.As(err, &located) {
			m.Reason = located.GetMessage()
			if token := located.GetToken(); token != nil {
				m.Line = token.Position.Line
			}
		}
		s.add(m)
		return none, false
	}
	return out, true
}

// unmarshal reads the first document of YAML strictly. The parser is not ours: what makes
// it panic is a mistake of the file like any other.
func (s *Source) unmarshal(out any) (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("cannot be read as YAML: %v", p)
		}
	}()
	for _, doc := range s.tree.Docs {
		if doc.Body != nil {
			return yaml.NodeToValue(doc.Body, out, yaml.Strict())
		}
	}
	return nil
}

// parse reads YAML into its tree, once. It refuses YAML that names one part to use it again
// elsewhere, since a few lines of it can stand for more than any memory holds, and what can
// be kept nowhere.
func (s *Source) parse() (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("cannot be read as YAML: %v", p)
		}
	}()
	if s.tree != nil {
		return nil
	}
	tree, err := parser.ParseBytes(s.data, 0)
	if err != nil {
		return err
	}
	found := unusable{}
	for _, doc := range tree.Docs {
		if doc.Body != nil {
			ast.Walk(&found, doc.Body)
		}
	}
	if found.reason != "" {
		return fmt.Errorf("line %d %s", found.line, found.reason)
	}
	s.tree = tree
	return nil
}

// unusable looks for the first part of a tree that is not taken: an alias, what is no number
// among numbers, text that a database cannot hold.
type unusable struct {
	line   int
	reason string
}

func (u *unusable) Visit(n ast.Node) ast.Visitor {
	reason := ""
	switch n := n.(type) {
	case *ast.AliasNode:
		reason = "uses a part again by an alias (*…); write it out"
	case *ast.NanNode, *ast.InfinityNode:
		reason = "holds what is no number: " + n.GetToken().Value
	case *ast.StringNode:
		if strings.ContainsRune(n.Value, 0) {
			reason = "holds the character NUL"
		}
	}
	if reason != "" && u.reason == "" {
		u.line, u.reason = n.GetToken().Position.Line, reason
	}
	return u
}

// Report adds faults found in the document.
func (s *Source) Report(faults []form.Problem) {
	for _, f := range faults {
		s.At(f.Field, f.Reason)
	}
}

// At reports a mistake at a path; where the path does not exist, its nearest
// existing parent gives the line.
func (s *Source) At(where, reason string) {
	if len(s.Problems) > maxProblems {
		return
	}
	s.add(form.Problem{Line: s.Line(where), Field: where, Reason: reason})
}

func (s *Source) add(m form.Problem) {
	m.File = s.name
	switch {
	case len(s.Problems) < maxProblems:
		s.Problems = append(s.Problems, m)
	case len(s.Problems) == maxProblems:
		s.Problems = append(s.Problems, form.Problem{File: s.name, Reason: "has more mistakes, which are not listed"})
	}
}

// Line is where in the file a path stands; 0 for none.
func (s *Source) Line(where string) (line int) {
	if s.json {
		if s.lines == nil {
			s.lines = jsonLines(s.data)
		}
		for at := where; ; {
			if line, there := s.lines[at]; there {
				return line
			}
			cut := strings.LastIndexAny(at, ".[")
			if cut < 0 {
				return 0
			}
			at = at[:cut]
		}
	}
	defer func() { _ = recover() }() // a path is looked up by the parser's own code
	for at := where; s.tree != nil && at != ""; {
		if p, err := yaml.PathString(at); err == nil {
			if node, err := p.FilterFile(s.tree); err == nil && node != nil {
				return node.GetToken().Position.Line
			}
		}
		cut := strings.LastIndexAny(at, ".[")
		if cut < 0 {
			break
		}
		at = at[:cut]
	}
	return 0
}

// jsonLines are the lines of every path of JSON, such as $.phases[0].title.
func jsonLines(data []byte) map[string]int {
	lines := map[string]int{}
	d := json.NewDecoder(bytes.NewReader(data))
	line, counted := 1, int64(0)
	var walk func(at string) bool
	walk = func(at string) bool {
		token, err := d.Token()
		if err != nil {
			return false
		}
		line += bytes.Count(data[counted:d.InputOffset()], []byte("\n"))
		counted = d.InputOffset()
		lines[at] = line
		switch token {
		case json.Delim('{'):
			for d.More() {
				name, err := d.Token()
				if err != nil || !walk(at+"."+fmt.Sprint(name)) {
					return false
				}
			}
		case json.Delim('['):
			for i := 0; d.More(); i++ {
				if !walk(fmt.Sprintf("%s[%d]", at, i)) {
					return false
				}
			}
		default:
			return true
		}
		_, err = d.Token()
		return err == nil
	}
	walk("$")
	return lines
}

// Err joins the mistakes; nil when there are none.
func (s *Source) Err() error { return Join(s.Problems) }

// Join makes one error of mistakes; nil when there are none.
func Join(mistakes []form.Problem) error {
	all := make([]error, len(mistakes))
	for i, m := range mistakes {
		all[i] = m
	}
	return errors.Join(all...)
}

// Document is what can be read and written as YAML and JSON.
type Document interface {
	Problems() []form.Problem
}

// Read reads one document, YAML or JSON, holds it to its schema and reports
// every mistake. Where mistakes are inside a document that could still be
// read, the document comes back beside them.
func Read[T Document](name string, data []byte) (T, []form.Problem) {
	s := Open(name, data)
	loose, ok := Decode[any](s)
	var none T
	if !ok {
		return none, s.Problems
	}
	plain, err := json.Marshal(loose)
	if err != nil {
		s.add(form.Problem{Reason: "holds what JSON cannot: " + err.Error()})
		return none, s.Problems
	}
	schemaFaults(plain, none, s.At)
	if len(s.Problems) > 0 {
		return none, s.Problems
	}
	doc, ok := Decode[T](s)
	if ok {
		s.Report(doc.Problems())
		if t, isType := any(doc).(aircraft.Type); isType {
			s.Report(check.LimitProblems(t))
			s.Report(check.Impossible(t))
		}
	}
	return doc, s.Problems
}

// Write gives a document as "yaml" or "json".
func Write(doc any, format string) ([]byte, error) {
	if format == "json" {
		data, err := json.MarshalIndent(doc, "", "  ")
		return append(data, '\n'), err
	}
	data, err := json.Marshal(doc)
	if err != nil {
		return nil, err
	}
	// JSON is YAML; read as nodes it keeps its order, and loses its braces.
	var tree emit.Node
	if err := emit.Unmarshal(data, &tree); err != nil {
		return nil, err
	}
	unbrace(&tree)
	var out bytes.Buffer
	e := emit.NewEncoder(&out)
	e.SetIndent(2)
	if err := e.Encode(&tree); err != nil {
		return nil, err
	}
	return out.Bytes(), e.Close()
}

// unbrace lets the writer choose how each value looks.
func unbrace(n *emit.Node) {
	n.Style = 0
	if n.Kind == emit.MappingNode && len(n.Content) == 0 || n.Kind == emit.SequenceNode && len(n.Content) == 0 {
		n.Style = emit.FlowStyle
	}
	if n.Kind == emit.ScalarNode && n.Tag == "!!str" && numberlike.MatchString(n.Value) {
		n.Style = emit.DoubleQuotedStyle
	}
	for _, inner := range n.Content {
		unbrace(inner)
	}
}

// numberlike are texts that one parser of YAML or another takes for a number:
// ._3 is one to the reader, and none to the writer, which would leave it bare.
var numberlike = regexp.MustCompile(`^[-+.]?[0-9._:a-fA-FxXoO+-]*[0-9][0-9._:a-fA-FxXoO+-]*$`)
