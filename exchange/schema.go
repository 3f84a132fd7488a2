package exchange

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/standard"
)

// Kinds are the kinds of documents that have a schema, with an example of each.
var kinds = map[string]Document{
	"type": aircraft.Type{}, "list": checklist.List{}, "layer": checklist.Layer{}, "aid": checklist.Aid{},
	"pack": standard.Pack{},
}

// schemas are made from the Go types once.
var schemas = sync.OnceValue(func() huma.Registry {
	huma.DefaultArrayNullable = false // no array of ours is ever null
	r := huma.NewMapRegistry("#/$defs/", func(t reflect.Type, hint string) string {
		for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
			t = t.Elem()
		}
		pkg := t.PkgPath()[strings.LastIndexByte(t.PkgPath(), '/')+1:]
		return pkg + "." + t.Name()
	})
	for _, doc := range kinds {
		r.Schema(reflect.TypeOf(doc), true, "")
	}
	return r
})

// Schema is the JSON Schema of a kind of document: type, list, layer, aid or pack.
func Schema(kind string) ([]byte, error) {
	doc, known := kinds[kind]
	if !known {
		return nil, fmt.Errorf("%q has no schema; known: type, list, layer, aid, pack", kind)
	}
	r := schemas()
	root := r.Schema(reflect.TypeOf(doc), true, "")
	used := map[string]*huma.Schema{}
	var follow func(s *huma.Schema)
	follow = func(s *huma.Schema) {
		if s == nil {
			return
		}
		if name := strings.TrimPrefix(s.Ref, "#/$defs/"); s.Ref != "" && used[name] == nil {
			used[name] = r.Map()[name]
			follow(used[name])
		}
		for _, p := range s.Properties {
			follow(p)
		}
		follow(s.Items)
		if more, ok := s.AdditionalProperties.(*huma.Schema); ok {
			follow(more)
		}
	}
	follow(root)
	return json.MarshalIndent(struct {
		Schema string                  `json:"$schema"`
		Ref    string                  `json:"$ref"`
		Defs   map[string]*huma.Schema `json:"$defs"`
	}{"https://json-schema.org/draft/2020-12/schema", root.Ref, used}, "", "  ")
}

// schemaFaults holds a document, as JSON, to the schema of its Go type.
func schemaFaults(plain []byte, doc Document, at func(path, reason string)) {
	var value any
	if err := json.Unmarshal(plain, &value); err != nil {
		at("$", err.Error())
		return
	}
	r := schemas()
	result := huma.ValidateResult{}
	huma.Validate(r, r.Schema(reflect.TypeOf(doc), true, ""), huma.NewPathBuffer(nil, 0), huma.ModeWriteToServer, value, &result)
	for _, err := range result.Errors {
		path, reason := "$", err.Error()
		if detail, ok := err.(*huma.ErrorDetail); ok {
			reason = detail.Message
			if detail.Location != "" {
				path = "$." + detail.Location
			}
		}
		at(path, reason)
	}
}
