package main

import (
	"encoding/json"
	"fmt"
	"reflect"

	"github.com/danielgtaylor/huma/v2"
	"github.com/spf13/cobra"

	"jetprimer/browser/bridge"
	"jetprimer/server"
)

func openAPICommand() *cobra.Command {
	var page bool
	command := &cobra.Command{
		Use:   "openapi",
		Short: "Print the OpenAPI document of the HTTP interface",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := data()
			if err != nil {
				return err
			}
			document, err := server.OpenAPI(c)
			if err != nil {
				return err
			}
			if page {
				document.Extensions["x-rules"] = describedRules(document.Components.Schemas)
			}
			text, err := json.Marshal(document)
			if err != nil {
				return err
			}
			_, err = fmt.Fprintf(cmd.OutOrStdout(), "%s\n", text)
			return err
		},
	}
	command.Flags().BoolVar(&page, "page", false, "add the functions of the rules in the browser, as x-rules")
	return command
}

// describedRule is a function of the rules in the browser, from which the page's side is made.
type describedRule struct {
	Name    string         `json:"name"`
	Doc     string         `json:"doc"`
	Long    bool           `json:"long"`
	Args    []describedArg `json:"args"`
	Answers *huma.Schema   `json:"answers,omitempty"`
}

type describedArg struct {
	Name     string       `json:"name"`
	Optional bool         `json:"optional"`
	Schema   *huma.Schema `json:"schema"`
}

// describedRules describes the functions of the bridge; their types go to the registry.
func describedRules(types huma.Registry) []describedRule {
	var out []describedRule
	for _, f := range bridge.Functions() {
		rule := describedRule{Name: f.Name, Doc: f.Doc, Long: f.Long, Args: []describedArg{}}
		for _, a := range f.Takes() {
			schema := &huma.Schema{Type: huma.TypeObject, AdditionalProperties: true}
			if a.Type != reflect.TypeFor[bridge.Raw]() {
				schema = types.Schema(a.Type, true, "")
			}
			rule.Args = append(rule.Args, describedArg{a.Name, a.Optional, schema})
		}
		if gives := f.Gives(); gives != nil {
			rule.Answers = types.Schema(gives, true, "")
		}
		out = append(out, rule)
	}
	return out
}
