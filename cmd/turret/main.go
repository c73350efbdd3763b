// Command turret consolidates the schedules and costs of many projects and says which of them need a decision, and why.
package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"os/signal"
	"syscall"

	"turret/internal/app/fault"

	"github.com/spf13/cobra"
)

// usageError is a wrong call: exit status 2.
type usageError struct{ error }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	err := root().ExecuteContext(ctx)
	stop()
	os.Exit(status(err))
}

// status reports an error on standard error: 1 for bad input, 2 for wrong usage.
func status(err error) int {
	if err == nil {
		return 0
	}
	var refusal *fault.Refusal
	if errors.As(err, &refusal) {
		fmt.Fprintln(os.Stderr, refusal.Error())
		return 1
	}
	fmt.Fprintln(os.Stderr, "turret:", err)
	var wrong usageError
	if errors.As(err, &wrong) {
		return 2
	}
	return 1
}

func root() *cobra.Command {
	var today string
	c := &cobra.Command{
		Use:               "turret",
		Short:             "Portfolio figures that explain themselves, from files to a decision",
		SilenceErrors:     true,
		SilenceUsage:      true,
		Args:              cobra.ArbitraryArgs,
		PersistentPreRunE: func(c *cobra.Command, _ []string) error { return setClock(c, today) },
		RunE: func(_ *cobra.Command, args []string) error {
			if len(args) > 0 {
				return usageError{fmt.Errorf("%q is not a command; turret --help lists them", args[0])}
			}
			return usageError{errors.New("which command? turret --help lists them")}
		},
	}
	c.SetFlagErrorFunc(func(c *cobra.Command, err error) error {
		return usageError{fmt.Errorf("%w; see %s --help", err, c.CommandPath())}
	})
	c.PersistentFlags().StringVar(&today, "today", "", todayHelp)
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, nil)))
	c.AddCommand(initCommand(), importCommand(), measuresCommand(), checkCommand(), publishCommand(), reportCommand(), referenceCommand(),
		traceCommand(), networkCommand(), capacityCommand(), rankCommand(), selectCommand(), rangeCommand(), predictCommand(),
		exportCommand(), generateCommand(),
		sendersCommand(),
		serveCommand(), demoCommand(), simulateCommand(), backupCommand(), restoreCommand(), verifyCommand())
	for _, sub := range c.Commands() {
		sub.Args = wrongUsage(sub.Args)
	}
	return c
}

// wrongUsage marks the errors of an argument check, and of missing required flags, as wrong usage.
func wrongUsage(check cobra.PositionalArgs) cobra.PositionalArgs {
	return func(c *cobra.Command, args []string) error {
		err := c.ValidateRequiredFlags()
		if err == nil && check != nil {
			err = check(c, args)
		}
		if err != nil {
			return usageError{fmt.Errorf("%w; see %s --help", err, c.CommandPath())}
		}
		return nil
	}
}
