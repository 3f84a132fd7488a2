package exchange

import (
	"fmt"
	"strings"

	"jetprimer/core/checklist"
)

// Formats are the forms that a list has as a file; every other kind of document
// has the first two.
var Formats = []string{"yaml", "json", "csv", "markdown", "pdf"}

// endings tell a file's form from the ending of its name.
var endings = map[string]string{"yaml": "yaml", "yml": "yaml", "json": "json", "csv": "csv", "tsv": "csv", "md": "markdown", "markdown": "markdown", "txt": "markdown"}

// FormatOf tells a file's form from the ending of its name.
func FormatOf(name string) (string, error) {
	ending := strings.ToLower(name[strings.LastIndexByte(name, '.')+1:])
	if format, known := endings[ending]; known {
		return format, nil
	}
	return "", fmt.Errorf("%s must end in .yaml, .json, .csv or .md, so that its form is known", name)
}

// ReadFile reads a document of a kind from a file in one of the forms. It is
// nil when nothing could be read; the error says that the kind or the form is
// not one to be read.
func ReadFile(kind, format, name string, data []byte) (Document, []Mistake, error) {
	k, known := kinds[kind]
	switch {
	case !known:
		return nil, nil, fmt.Errorf("kind must be type, list, layer, aid or pack, not %q", kind)
	case format == "yaml" || format == "json":
		doc, mistakes := k.read(name, data)
		return doc, mistakes, nil
	case kind != "list" || format != "csv" && format != "markdown":
		return nil, nil, fmt.Errorf("format must be yaml or json: only a list can be read from a table or from Markdown")
	}
	read := ReadTable
	if format == "markdown" {
		read = ReadMarkdown
	}
	list, mistakes := read(name, data)
	if len(list.Phases) == 0 {
		return nil, mistakes, nil
	}
	return list, mistakes, nil
}

// WriteFile gives a document in one of the forms. What a printed card says
// beside the list stands in card.
func WriteFile(doc any, format string, card Card) ([]byte, error) {
	list, isList := doc.(checklist.List)
	switch {
	case format == "yaml" || format == "json":
		return Write(doc, format)
	case !isList:
		return nil, fmt.Errorf("format must be yaml or json: only a list without mistakes in its form can be printed or made a table")
	case format == "csv":
		return WriteTable(list)
	case format == "markdown":
		return WriteMarkdown(list), nil
	case format == "pdf":
		card.List = list
		return WriteCard(card)
	}
	return nil, fmt.Errorf("format must be %s, not %q", strings.Join(Formats, ", "), format)
}
