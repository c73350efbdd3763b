// Command mutants plants faults, each by itself, and runs the tests of the package that it is planted in: a fault that no test of its
// own package finds has survived. The tree is not touched; the compiler is given the changed file in the place of the other.
//
//	go run ./tools/mutants [-only TEXT] [-beside 2] [-out docs/mutants.md]
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"golang.org/x/sync/errgroup"
)

// fault is a piece of a file that is replaced by another.
type fault struct{ Says, File, Old, New string }

// outcome is what became of a fault.
type outcome string

const (
	found    outcome = "found"
	survived outcome = "survived"
	broken   outcome = "does not compile"
)

func main() {
	list := flag.String("faults", "tools/mutants/faults.txt", "the faults to plant")
	only := flag.String("only", "", "plant those whose words or file contain this")
	beside := flag.Int("beside", 2, "how many faults are planted beside one another, each by itself")
	out := flag.String("out", "", "write the table to this file as well")
	flag.Parse()
	if err := run(*list, *only, *out, *beside); err != nil {
		fmt.Fprintln(os.Stderr, "mutants:", err)
		os.Exit(1)
	}
}

func run(list, only, out string, beside int) error {
	b, err := os.ReadFile(list)
	if err != nil {
		return err
	}
	all, err := parse(string(b))
	if err != nil {
		return fmt.Errorf("%s: %w", list, err)
	}
	faults := slices.DeleteFunc(all, func(f fault) bool { return !strings.Contains(f.Says+f.File, only) })
	outcomes := make([]outcome, len(faults))
	var sound passing
	var work errgroup.Group
	work.SetLimit(beside)
	for i, f := range faults {
		work.Go(func() error {
			if err := sound.holds(filepath.Dir(f.File)); err != nil {
				return err
			}
			o, took, err := f.plant()
			outcomes[i] = o
			fmt.Printf("%-9s %5.1f s  %s: %s\n", o, took.Seconds(), f.File, f.Says)
			return err
		})
	}
	if err := work.Wait(); err != nil {
		return err
	}
	return tell(faults, outcomes, out)
}

// tell says how many faults were found, and writes the table to out unless that is empty.
func tell(faults []fault, outcomes []outcome, out string) error {
	var rows strings.Builder
	count := map[outcome]int{}
	for i, f := range faults {
		count[outcomes[i]]++
		fmt.Fprintf(&rows, "| %s | `%s` | %s |\n", f.Says, filepath.Dir(f.File), outcomes[i])
	}
	sum := fmt.Sprintf("%d of %d faults found by the tests of their own package", count[found], count[found]+count[survived])
	fmt.Println(sum)
	if out != "" {
		text := "# Faults planted\n\n`make mutants` plants each of these faults by itself and runs the tests of the package that it " +
			"is planted in. " + sum + ".\n\n| fault | package | outcome |\n|---|---|---|\n" + rows.String()
		if err := os.WriteFile(out, []byte(text), 0o644); err != nil {
			return err
		}
	}
	if n := count[broken]; n > 0 {
		return fmt.Errorf("%d faults do not compile", n)
	}
	return nil
}

// quick are the flags of a test that is run for its outcome alone.
var quick = []string{"test", "-vet=off", "-ldflags=-s -w", "-failfast", "-timeout", "5m"}

// passing are the packages whose tests pass without a fault: where they do not, they would find any.
type passing struct {
	mu    sync.Mutex
	asked map[string]func() error
}

// holds runs the tests of a package without a fault, once.
func (p *passing) holds(dir string) error {
	p.mu.Lock()
	once, ok := p.asked[dir]
	if !ok {
		once = sync.OnceValue(func() error {
			if out, err := exec.Command("go", slices.Concat(quick, []string{"./" + dir})...).CombinedOutput(); err != nil {
				return fmt.Errorf("the tests of %s fail without a fault: %w\n%s", dir, err, out)
			}
			return nil
		})
		if p.asked == nil {
			p.asked = map[string]func() error{}
		}
		p.asked[dir] = once
	}
	p.mu.Unlock()
	return once()
}

// parse reads faults: a line with # that says it, the file, then lines that begin with - and +.
func parse(text string) ([]fault, error) {
	var list []fault
	for i, block := range strings.Split(strings.TrimSpace(text), "\n\n") {
		var f fault
		for _, line := range strings.Split(block, "\n") {
			switch {
			case strings.HasPrefix(line, "# "):
				f.Says = line[2:]
			case strings.HasPrefix(line, "-"):
				f.Old += line[1:] + "\n"
			case strings.HasPrefix(line, "+"):
				f.New += line[1:] + "\n"
			default:
				f.File = line
			}
		}
		f.Old, f.New = strings.TrimSuffix(f.Old, "\n"), strings.TrimSuffix(f.New, "\n")
		if f.Says == "" || f.File == "" || f.Old == "" {
			return nil, fmt.Errorf("fault %d: expected what it is, a file, and what to replace", i+1)
		}
		list = append(list, f)
	}
	return list, nil
}

// changed is the file with the fault. What is to be replaced must stand in it exactly once.
func (f *fault) changed(root string) ([]byte, error) {
	b, err := os.ReadFile(filepath.Join(root, f.File))
	if err != nil {
		return nil, err
	}
	if n := bytes.Count(b, []byte(f.Old)); n != 1 {
		return nil, fmt.Errorf("%s: %q stands in it %d times, and should once", f.File, f.Old, n)
	}
	return bytes.Replace(b, []byte(f.Old), []byte(f.New), 1), nil
}

// plant runs the tests of the fault's package with it.
func (f *fault) plant() (outcome, time.Duration, error) {
	b, err := f.changed(".")
	if err != nil {
		return "", 0, err
	}
	dir, err := os.MkdirTemp("", "mutants")
	if err != nil {
		return "", 0, err
	}
	defer os.RemoveAll(dir)
	here, err := os.Getwd()
	if err != nil {
		return "", 0, err
	}
	file, overlay := filepath.Join(dir, "fault.go"), filepath.Join(dir, "overlay.json")
	replace, err := json.Marshal(map[string]map[string]string{"Replace": {filepath.Join(here, f.File): file}})
	if err == nil {
		err = errors.Join(os.WriteFile(file, b, 0o600), os.WriteFile(overlay, replace, 0o600))
	}
	if err != nil {
		return "", 0, err
	}
	begun := time.Now()
	pkg := "./" + filepath.Dir(f.File)
	if err := exec.Command("go", "build", "-o", os.DevNull, "-overlay", overlay, pkg).Run(); err != nil {
		return broken, time.Since(begun), nil
	}
	test := exec.Command("go", slices.Concat(quick, []string{"-overlay", overlay, "-count=1", pkg})...)
	test.Env = append(os.Environ(), "TMPDIR="+dir) // a demonstration made with the fault is for nobody else
	err = test.Run()
	_ = os.RemoveAll(filepath.Join(filepath.Dir(f.File), "testdata", "rapid")) // what a property that fails leaves behind
	if err != nil {
		return found, time.Since(begun), nil
	}
	return survived, time.Since(begun), nil
}
