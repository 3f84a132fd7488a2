package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"jetprimer/catalog"
	"jetprimer/core/checklist"
	"jetprimer/exchange"
)

func tailorCommand() *cobra.Command {
	var layers, equipment []string
	var order []int
	cmd := &cobra.Command{
		Use:   "tailor TYPE < day.json",
		Short: "Print the list of an aircraft type as flown on a day",
		Long: "Reads the day as JSON from standard input, such as {\"oatC\": -4, \"night\": true}; what is not " +
			"known is left\n" +
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
			of := checklist.Tailoring{
				List: list, Type: t, Aircraft: checklist.Aircraft{Equipment: equipment, StartOrder: order},
			}
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
		Long: "Reads YAML, JSON, CSV or Markdown by the file's ending, reports every mistake with its line, and " +
			"writes\n" +
			"the document in another form to standard output.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := data()
			if err != nil {
				return err
			}
			doc, err := readAny(c, args[0], kind)
			if err != nil {
				return &unusableError{err}
			}
			card := exchange.Card{Printed: time.Now().UTC()}
			if list, isList := doc.(checklist.List); isList {
				card.Type, _ = c.Type(list.AircraftType)
				card.Status = fmt.Sprintf("Version %d", list.Version)
			}
			out, err := exchange.WriteFile(doc, to, card)
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

// readAny reads a document of a kind from a file; the name of an aircraft type
// stands for its shipped list.
func readAny(c *catalog.Catalog, name, kind string) (any, error) {
	if list, known := c.ListFor(name); known {
		return list, nil
	}
	format, err := exchange.FormatOf(name)
	if err != nil {
		return nil, err
	}
	data, err := os.ReadFile(name)
	if err != nil {
		return nil, err
	}
	doc, mistakes, err := exchange.ReadFile(kind, format, name, data)
	if err == nil {
		err = exchange.Join(mistakes)
	}
	return doc, err
}
