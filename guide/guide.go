// Package guide is the user guide that ships inside the application: pages written as
// Markdown, one for each role and for each place of the application, with the words that
// screens share put in from the vocabulary.
//
// In a page *emphasis* is what a screen says, **strong** is what to remember, `code` is a
// key, and [words](page) leads to another page. {mark wrong} stands for the word of a mark,
// and so do {outcome}, {decision}, {standing}, {role}, {method}, {rank}, {status}, {severity},
// {oral} and {place}.
package guide

import (
	"bytes"
	"cmp"
	"embed"
	"fmt"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/text"

	"jetprimer/core/access"
	"jetprimer/core/words"
)

//go:embed pages
var files embed.FS

// Page is one page of the guide.
type Page struct {
	ID    string `json:"id" doc:"such as schedule"`
	Title string `json:"title"`
	// About says in a line what the page is for.
	About string `json:"about"`
	// Role is whose page it is; empty where it is that of a place.
	Role string `json:"role"`
	// Places are those of the application that it explains.
	Places []string `json:"places"`
	Blocks []Block  `json:"blocks"`
}

// Block is a heading, a paragraph, a list, steps in order, or a caution.
type Block struct {
	Kind string `json:"kind" enum:"heading,text,list,steps,caution"`
	// Items are the points of a list or the steps; every other block has one.
	Items [][]Part `json:"items"`
}

// Part is a run of text of one kind.
type Part struct {
	Text string `json:"text"`
	Kind string `json:"kind" enum:"plain,label,strong,key,link" doc:"label is what a screen says, key a key of the keyboard"`
	// Page is where a link leads.
	Page string `json:"page,omitempty"`
}

// Pages are all pages: those of roles first, in the order of the roles, then those of
// places, in the order of the vocabulary.
var Pages = sync.OnceValues(func() ([]Page, error) {
	names, err := fs.Glob(files, "pages/*.md")
	if err != nil {
		return nil, err
	}
	out := make([]Page, len(names))
	for i, name := range names {
		data, err := files.ReadFile(name)
		if err != nil {
			return nil, err
		}
		id := strings.TrimSuffix(path.Base(name), ".md")
		if out[i], err = read(id, data); err != nil {
			return nil, fmt.Errorf("guide: %s: %w", id, err)
		}
	}
	for _, p := range out {
		for _, to := range p.links() {
			if !slices.ContainsFunc(out, func(o Page) bool { return o.ID == to }) {
				return nil, fmt.Errorf("guide: %s: there is no page %q", p.ID, to)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Page) int { return cmp.Compare(a.rank(), b.rank()) })
	return out, nil
})

// rank is where a page stands in the guide.
func (p Page) rank() int {
	all := words.All()
	at := func(list []words.Word, id string) int {
		return slices.IndexFunc(list, func(w words.Word) bool { return w.ID == id })
	}
	switch {
	case p.Role != "":
		return 1 + at(all.Roles, p.Role)
	case len(p.Places) > 0:
		rank := 100 + 2*at(all.Places, p.Places[0])
		if p.ID != p.Places[0] {
			rank++ // what is more on a place comes after it
		}
		return rank
	}
	return 0
}

// links are the pages that a page leads to.
func (p Page) links() (to []string) {
	for _, b := range p.Blocks {
		for _, item := range b.Items {
			for _, part := range item {
				if part.Page != "" {
					to = append(to, part.Page)
				}
			}
		}
	}
	return to
}

// head matches the lines before a page's text, such as "places: schedule".
var head = regexp.MustCompile(`^(title|about|role|places): (.+)$`)

// read reads one page.
func read(id string, data []byte) (Page, error) {
	p := Page{ID: id, Places: []string{}, Blocks: []Block{}}
	lines, body, _ := strings.Cut(string(data), "\n\n")
	for _, line := range strings.Split(lines, "\n") {
		m := head.FindStringSubmatch(line)
		if m == nil {
			return p, fmt.Errorf("%q is not part of a head", line)
		}
		said, err := filled(m[2])
		if err != nil {
			return p, err
		}
		switch m[1] {
		case "title":
			p.Title = said
		case "about":
			p.About = said
		case "role":
			p.Role = m[2]
		case "places":
			p.Places = strings.Split(m[2], ", ")
		}
	}
	if p.Title == "" || p.About == "" {
		return p, fmt.Errorf("has no title, or does not say what it is about")
	}
	if p.Role != "" && !access.Everyone.Has(p.Role) {
		return p, fmt.Errorf("%q is no role", p.Role)
	}
	for _, place := range p.Places {
		if _, err := word("place", place); err != nil {
			return p, err
		}
	}
	body, err := filled(body)
	if err != nil {
		return p, err
	}
	p.Blocks, err = blocks([]byte(body))
	return p, err
}

// blank matches what stands for a word, such as {mark wrong}.
var blank = regexp.MustCompile(`\{(\w+) ([\w -]+)\}`)

// filled puts the words of the vocabulary into a text.
func filled(s string) (string, error) {
	var failed error
	out := blank.ReplaceAllStringFunc(s, func(found string) string {
		m := blank.FindStringSubmatch(found)
		said, err := word(m[1], m[2])
		if err != nil {
			failed = err
		}
		return said
	})
	return out, failed
}

// word is what something of the vocabulary is called.
func word(list, id string) (string, error) {
	all := words.All()
	lists := map[string][]words.Word{
		"mark": all.Marks, "outcome": all.Outcomes, "decision": all.Decisions, "standing": all.Standings,
		"role": all.Roles, "method": all.Methods, "rank": all.Ranks, "status": all.Statuses, "purpose": all.Purposes,
		"severity": all.Severities, "oral": all.Orals, "place": all.Places,
	}
	for _, w := range lists[list] {
		if w.ID == id {
			return w.Words, nil
		}
	}
	return "", fmt.Errorf("{%s %s} is no word of the vocabulary", list, id)
}

// blocks are those of a text in Markdown.
func blocks(source []byte) ([]Block, error) {
	out := []Block{}
	document := goldmark.DefaultParser().Parse(text.NewReader(source))
	for n := document.FirstChild(); n != nil; n = n.NextSibling() {
		b := Block{Kind: "text"}
		items := []ast.Node{n}
		switch n := n.(type) {
		case *ast.Heading:
			b.Kind = "heading"
		case *ast.Paragraph:
		case *ast.Blockquote:
			b.Kind, items = "caution", children(n)
		case *ast.List:
			b.Kind, items = "list", children(n)
			if n.IsOrdered() {
				b.Kind = "steps"
			}
		default:
			return nil, fmt.Errorf("a block of the kind %s has no place in the guide", n.Kind())
		}
		for _, item := range items {
			parts, err := parts(item, source, "plain", "")
			if err != nil {
				return nil, err
			}
			b.Items = append(b.Items, joined(parts))
		}
		out = append(out, b)
	}
	return out, nil
}

func children(n ast.Node) (out []ast.Node) {
	for c := n.FirstChild(); c != nil; c = c.NextSibling() {
		out = append(out, c)
	}
	return out
}

// parts are the runs of text inside a node.
func parts(n ast.Node, source []byte, kind, page string) (out []Part, err error) {
	for _, c := range children(n) {
		k, to := kind, page
		switch c := c.(type) {
		case *ast.Text:
			said := string(c.Segment.Value(source))
			if c.SoftLineBreak() {
				said += " "
			}
			out = append(out, Part{said, k, to})
			continue
		case *ast.String:
			out = append(out, Part{string(c.Value), k, to})
			continue
		case *ast.Emphasis:
			k = map[int]string{1: "label", 2: "strong"}[c.Level]
		case *ast.CodeSpan:
			k = "key"
		case *ast.Link:
			k, to = "link", string(c.Destination)
		case *ast.TextBlock, *ast.Paragraph:
		default:
			return nil, fmt.Errorf("text of the kind %s has no place in the guide", c.Kind())
		}
		inner, err := parts(c, source, k, to)
		if err != nil {
			return nil, err
		}
		out = append(out, inner...)
	}
	return out, nil
}

// joined puts neighbours of one kind together.
func joined(all []Part) (out []Part) {
	for _, p := range all {
		if i := len(out) - 1; i >= 0 && out[i].Kind == p.Kind && out[i].Page == p.Page {
			out[i].Text += p.Text
			continue
		}
		out = append(out, p)
	}
	for i := range out {
		out[i].Text = string(bytes.ReplaceAll([]byte(out[i].Text), []byte("\n"), []byte(" ")))
	}
	return out
}
