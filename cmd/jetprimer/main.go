// Command jetprimer is the whole program: it serves the application, runs the
// demo school, and answers from the command line what the rules answer on a
// tablet.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"strings"
	"syscall"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"jetprimer/catalog"
	"jetprimer/core/form"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	err := root().ExecuteContext(ctx)
	if err == nil {
		return
	}
	fmt.Fprintln(os.Stderr, strings.ReplaceAll(err.Error(), "\n", "\njetprimer: "))
	var bad form.Problem
	var unusable *unusableError
	if errors.As(err, &bad) || errors.As(err, &unusable) {
		os.Exit(2)
	}
	os.Exit(1)
}

// unusableError is input that cannot be used: exit 2.
type unusableError struct{ error }

func root() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "jetprimer",
		Short: "Training record and teaching aid for engine start, run-up and before-take-off checks",
		Long: "Jet Primer records and teaches. The aircraft's approved handbook and the operator's rules govern;\n" +
			"a licensed instructor or mechanic decides. It is not an approved checklist.\n\n" +
			"Every flag can be given as a variable: --listen is JETPRIMER_LISTEN.",
		SilenceUsage: true, SilenceErrors: true,
		PersistentPreRunE: func(cmd *cobra.Command, _ []string) error { return fromEnvironment(cmd.Flags()) },
	}
	cmd.AddCommand(checkCommand(), calcCommand(), tailorCommand(), convertCommand(), schemaCommand(), foldCommand(),
		compareCommand(), trendCommand(), runupsCommand(), recordingCommand(), standCommand(), serveCommand(),
		demoCommand(), upCommand(), schoolCommand(), migrateCommand(), backupCommand(), restoreCommand(),
		exportSchoolCommand(), importSchoolCommand(), statementsCommand(), exportDataCommand(), recordStoreCommand(),
		rebuildCommand(), verifyChainCommand(), verifyCommand(), exportRecordCommand(), rotateKeyCommand(),
		openAPICommand())
	return cmd
}

// fromEnvironment sets flags that were not given from JETPRIMER_… variables.
func fromEnvironment(flags *pflag.FlagSet) (err error) {
	flags.VisitAll(func(f *pflag.Flag) {
		name := "JETPRIMER_" + strings.ToUpper(strings.ReplaceAll(f.Name, "-", "_"))
		if value, ok := os.LookupEnv(name); ok && !f.Changed && err == nil {
			if e := flags.Set(f.Name, value); e != nil {
				err = fmt.Errorf("%s: %w", name, e)
			}
		}
	})
	return err
}

// data is the shipped catalog; a mistake in it stops the program.
func data() (*catalog.Catalog, error) {
	c, err := catalog.Shipped()
	if err != nil {
		return nil, fmt.Errorf("the catalog has mistakes:\n%w", err)
	}
	return c, nil
}
