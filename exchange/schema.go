package exchange

import (
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/policy"
	"jetprimer/core/stand"
	"jetprimer/core/standard"
)

// kind is a kind of document: an example of it, and how one is read.
type kind struct {
	empty Document
	read  func(name string, data []byte) (Document, []form.Problem)
}

// kindOf reads a T; what could not be read at all is nil.
func kindOf[T Document](empty T) kind {
	return kind{empty, func(name string, data []byte) (Document, []form.Problem) {
		doc, mistakes := Read[T](name, data)
		if len(mistakes) > 0 && reflect.ValueOf(doc).IsZero() {
			return nil, mistakes
		}
		return doc, mistakes
	}}
}

// kinds are the kinds of documents that have a schema.
var kinds = map[string]kind{
	"type": kindOf(aircraft.Type{}), "list": kindOf(checklist.List{}), "layer": kindOf(checklist.Layer{}),
	"aid":  kindOf(checklist.Aid{}),
	"pack": kindOf(standard.Pack{}), "policy": kindOf(policy.Policy{}),
}

// roots are what has a schema: every kind of document, and scenarios of the practice
// stand, whose names are held to a library as they are read.
var roots = map[string]reflect.Type{
	"type": reflect.TypeFor[aircraft.Type](), "list": reflect.TypeFor[checklist.List](),
	"layer": reflect.TypeFor[checklist.Layer](), "aid": reflect.TypeFor[checklist.Aid](),
	"pack": reflect.TypeFor[standard.Pack](), "policy": reflect.TypeFor[policy.Policy](),
	"scenario": reflect.TypeFor[stand.Scenario](),
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
	for _, name := range slices.Sorted(maps.Keys(roots)) {
		r.Schema(roots[name], true, "")
	}
	return r
})

// Schema is the JSON Schema of a kind of document: type, list, layer, aid, pack, policy
// or scenario.
func Schema(name string) ([]byte, error) {
	of, known := roots[name]
	if !known {
		return nil, fmt.Errorf("%q has no schema; known: %s", name, strings.Join(slices.Sorted(maps.Keys(roots)), ", "))
	}
	r := schemas()
	root := r.Schema(of, true, "")
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
	huma.Validate(r, r.Schema(reflect.TypeOf(doc), true, ""), huma.NewPathBuffer(nil, 0), huma.ModeWriteToServer, value,
		&result)
	for _, err := range result.Errors {
		detail, ok := err.(*huma.ErrorDetail)
		if !ok {
			at("$", err.Error())
			continue
		}
		// The detail's own text would repeat the whole value.
		path := "$"
		if detail.Location != "" {
			path = "$." + detail.Location
		}
		at(path, form.Clip(detail.Message))
	}
}
