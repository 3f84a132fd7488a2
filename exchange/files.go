package exchange

import (
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/standard"
)

// Format is a form that a document has as a file: the one place where a form is
// declared. Read and write are of lists; a form of every kind has neither, and
// goes through the kind's own reader.
type Format struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	// Kinds are the kinds of documents that have the form; where it names none, all have.
	Kinds   []string `json:"kinds,omitempty"`
	Media   string   `json:"-"`
	Ending  string   `json:"-"`
	endings []string
	read    func(name string, data []byte) (checklist.List, []form.Problem)
	write   func(c Card) ([]byte, error)
}

// Formats are the forms of documents.
var Formats = []Format{
	{ID: "pdf", Label: "knee card, PDF", Kinds: []string{"list"}, Media: "application/pdf", Ending: "pdf",
		write: WriteCard},
	{ID: "markdown", Label: "Markdown", Kinds: []string{"list"}, Media: "text/markdown; charset=utf-8", Ending: "md",
		endings: []string{"markdown", "txt"},
		read:    ReadMarkdown, write: func(c Card) ([]byte, error) { return WriteMarkdown(c.List), nil }},
	{ID: "csv", Label: "table, CSV", Kinds: []string{"list", "pack"}, Media: "text/csv; charset=utf-8", Ending: "csv",
		endings: []string{"tsv"},
		read:    ReadTable, write: func(c Card) ([]byte, error) { return WriteTable(c.List) }},
	{ID: "yaml", Label: "YAML", Media: "application/yaml", Ending: "yaml", endings: []string{"yml"}},
	{ID: "json", Label: "JSON", Media: "application/json", Ending: "json"},
}

// FormatNamed finds a form; the error lists all.
func FormatNamed(id string) (Format, error) {
	names := make([]string, len(Formats))
	for i, f := range Formats {
		if f.ID == id {
			return f, nil
		}
		names[i] = f.ID
	}
	return Format{}, form.Bad("format", "must be %s, not %q", strings.Join(names, ", "), form.Clip(id))
}

// FormatOf tells the form of a file to be read from the ending of its name.
func FormatOf(name string) (string, error) {
	ending := strings.ToLower(name[strings.LastIndexByte(name, '.')+1:])
	var known []string
	for _, f := range Formats {
		if f.read == nil && f.Kinds != nil {
			continue // it is only written
		}
		if f.Ending == ending || slices.Contains(f.endings, ending) {
			return f.ID, nil
		}
		known = append(known, "."+f.Ending)
	}
	return "", fmt.Errorf("%s must end in %s, so that its form is known", name, strings.Join(known, ", "))
}

// ReadFile reads a document of a kind from a file in one of the forms. It is
// nil when nothing could be read; the error says that the kind or the form is
// not one to be read.
func ReadFile(kind, format, name string, data []byte) (Document, []form.Problem, error) {
	k, known := kinds[kind]
	f, err := FormatNamed(format)
	switch {
	case err != nil:
		return nil, nil, err
	case !known:
		return nil, nil, fmt.Errorf("kind must be type, list, layer, aid or pack, not %q", kind)
	case f.Kinds == nil:
		doc, mistakes := k.read(name, data)
		return doc, mistakes, nil
	case kind == "pack" && f.ID == "csv":
		pack, mistakes := ReadPackTable(name, data)
		if len(pack.Tasks) == 0 {
			return nil, mistakes, nil
		}
		return pack, mistakes, nil
	case kind != "list" || f.read == nil:
		return nil, nil,
			fmt.Errorf("format must be yaml or json: only a list can be read from a table or from Markdown")
	}
	list, mistakes := f.read(name, data)
	if len(list.Phases) == 0 {
		return nil, mistakes, nil
	}
	return list, mistakes, nil
}

// WriteFile gives a document in one of the forms. What a printed card says
// beside the list stands in card.
func WriteFile(doc any, format string, card Card) ([]byte, error) {
	if pack, isPack := doc.(standard.Pack); isPack && format == "csv" {
		return WritePackTable(pack)
	}
	list, isList := doc.(checklist.List)
	f, err := FormatNamed(format)
	switch {
	case err != nil:
		return nil, err
	case f.Kinds == nil:
		return Write(doc, f.ID)
	case !isList:
		return nil, fmt.Errorf("format must be yaml or json: only a list without mistakes in its form can be " +
			"printed or made a table")
	}
	card.List = list
	return f.write(card)
}
