package main

import (
	"io"
	"os"
	"path/filepath"

	"turret/internal/reference"

	"github.com/spf13/cobra"
)

// references are the files that are made from the code.
var references = map[string]func(io.Writer) error{"formats.md": reference.Formats, "measures.md": reference.Measures,
	"rights.md": reference.Rights}

func referenceCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "reference DIR",
		Short: "Write what files hold and what measures mean, as Markdown",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if err := os.MkdirAll(args[0], 0o755); err != nil {
				return err
			}
			for name, write := range references {
				if err := toFile(c.OutOrStdout(), filepath.Join(args[0], name), write); err != nil {
					return err
				}
			}
			return nil
		},
	}
}
