package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/standard"
	"jetprimer/exchange"
)

func tailorCommand() *cobra.Command {
	var layers, equipment []string
	var order []int
	cmd := &cobra.Command{
		Use:   "tailor TYPE < day.json",
		Short: "Print the list of an aircraft type as flown on a day",
		Long: "Reads the day as JSON from standard input, such as {\"oatC\": -4, \"night\": true}; what is not known is left\n" +
			"out. Prints the list as flown with the reason of everything that is not as printed.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := data()
			if err != nil {
				return err
			}
			t, known := c.Type(args[0])
			list, listed := c.ListFor(args[0])
			if !known || !listed {
				return &unusableError{fmt.Errorf("aircraft type %q is not known", args[0])}
			}
			of := checklist.Tailoring{List: list, Type: t, Aircraft: checklist.Aircraft{Equipment: equipment, StartOrder: order}}
			d := json.NewDecoder(cmd.InOrStdin())
			d.DisallowUnknownFields()
			if err := d.Decode(&of.Day); err != nil && !errors.Is(err, io.EOF) {
				return &unusableError{fmt.Errorf("the day cannot be used: %w", err)}
			}
			for _, name := range layers {
				file, err := os.ReadFile(name)
				if err != nil {
					return &unusableError{err}
				}
				layer, mistakes := exchange.Read[checklist.Layer](name, file)
				if err := exchange.Join(mistakes); err != nil {
					return &unusableError{err}
				}
				of.Layers = append(of.Layers, layer)
			}
			flown, err := of.Flown()
			if err != nil {
				return &unusableError{err}
			}
			return printJSON(cmd, flown)
		},
	}
	cmd.Flags().StringArrayVar(&layers, "layer", nil, "file of a layer to lay over it; may be given several times")
	cmd.Flags().StringSliceVar(&equipment, "fitted", nil, "optional equipment of this very aircraft")
	cmd.Flags().IntSliceVar(&order, "start-order", nil, "engines in the order they are started, such as 2,1")
	return cmd
}

func printJSON(cmd *cobra.Command, value any) error {
	out, err := json.Marshal(value)
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(cmd.OutOrStdout(), "%s\n", out)
	return err
}

func schemaCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "schema type|list|layer|aid|pack",
		Short: "Print the JSON Schema of an open format",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			schema, err := exchange.Schema(args[0])
			if err != nil {
				return &unusableError{err}
			}
			_, err = fmt.Fprintf(cmd.OutOrStdout(), "%s\n", schema)
			return err
		},
	}
}

func convertCommand() *cobra.Command {
	var to, kind string
	cmd := &cobra.Command{
		Use:   "convert FILE|TYPE --to yaml|json|csv|markdown|pdf",
		Short: "Check a file and write it in another form; a type's name stands for its shipped list",
		Long: "Reads YAML, JSON, CSV or Markdown by the file's ending, reports every mistake with its line, and writes\n" +
			"the document in another form to standard output.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := data()
			if err != nil {
				return err
			}
			doc, mistakes, err := readAny(c, args[0], kind)
			if err != nil {
				return &unusableError{err}
			}
			if err := exchange.Join(mistakes); err != nil {
				return &unusableError{err}
			}
			out, err := writeAny(c, doc, to)
			if err != nil {
				return &unusableError{err}
			}
			_, err = cmd.OutOrStdout().Write(out)
			return err
		},
	}
	cmd.Flags().StringVar(&to, "to", "yaml", "the form to write")
	cmd.Flags().StringVar(&kind, "kind", "list", "what the file holds: type, list, layer, aid or pack")
	return cmd
}

// readAny reads a document of a kind by the ending of its file's name.
func readAny(c *catalog.Catalog, name, kind string) (any, []exchange.Mistake, error) {
	if list, known := c.ListFor(name); known {
		return list, nil, nil
	}
	data, err := os.ReadFile(name)
	if err != nil {
		return nil, nil, err
	}
	switch ending := strings.ToLower(filepath.Ext(name)); {
	case kind == "list" && (ending == ".csv" || ending == ".tsv"):
		doc, mistakes := exchange.ReadTable(name, data)
		return doc, mistakes, nil
	case kind == "list" && (ending == ".md" || ending == ".markdown" || ending == ".txt"):
		doc, mistakes := exchange.ReadMarkdown(name, data)
		return doc, mistakes, nil
	}
	switch kind {
	case "type":
		doc, mistakes := exchange.Read[aircraft.Type](name, data)
		return doc, mistakes, nil
	case "list":
		doc, mistakes := exchange.Read[checklist.List](name, data)
		return doc, mistakes, nil
	case "layer":
		doc, mistakes := exchange.Read[checklist.Layer](name, data)
		return doc, mistakes, nil
	case "aid":
		doc, mistakes := exchange.Read[checklist.Aid](name, data)
		return doc, mistakes, nil
	case "pack":
		doc, mistakes := exchange.Read[standard.Pack](name, data)
		return doc, mistakes, nil
	}
	return nil, nil, fmt.Errorf("--kind must be type, list, layer, aid or pack, not %q", kind)
}

func writeAny(c *catalog.Catalog, doc any, to string) ([]byte, error) {
	list, isList := doc.(checklist.List)
	switch {
	case to == "yaml" || to == "json":
		return exchange.Write(doc, to)
	case !isList:
		return nil, errors.New("--to must be yaml or json: only a list can be printed or made a table")
	case to == "csv":
		return exchange.WriteTable(list)
	case to == "markdown":
		return exchange.WriteMarkdown(list), nil
	case to == "pdf":
		t, known := c.Type(list.AircraftType)
		if !known {
			return nil, fmt.Errorf("aircraftType %q is not known", list.AircraftType)
		}
		return exchange.WriteCard(exchange.Card{List: list, Type: t, Status: fmt.Sprintf("Version %d", list.Version), Printed: time.Now().UTC()})
	}
	return nil, fmt.Errorf("--to must be yaml, json, csv, markdown or pdf, not %q", to)
}
