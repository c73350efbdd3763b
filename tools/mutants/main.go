// Command mutants plants faults, one at a time, and runs the tests of the package that each is planted in: a fault that no test of its
// own package
// finds has survived. The tree is not touched; the compiler is given the changed file in the place of the other.
//
//	go run ./tools/mutants [-only TEXT] [-out docs/mutants.md]
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
	"strings"
	"time"
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
	out := flag.String("out", "", "write the table to this file as well")
	flag.Parse()
	if err := run(*list, *only, *out); err != nil {
		fmt.Fprintln(os.Stderr, "mutants:", err)
		os.Exit(1)
	}
}

func run(list, only, out string) error {
	b, err := os.ReadFile(list)
	if err != nil {
		return err
	}
	faults, err := parse(string(b))
	if err != nil {
		return fmt.Errorf("%s: %w", list, err)
	}
	var rows strings.Builder
	count, sound := map[outcome]int{}, passing{}
	for _, f := range faults {
		if !strings.Contains(f.Says+f.File, only) {
			continue
		}
		if err := sound.holds(filepath.Dir(f.File)); err != nil {
			return err
		}
		o, took, err := f.plant()
		if err != nil {
			return err
		}
		count[o]++
		row := fmt.Sprintf("| %s | `%s` | %s |\n", f.Says, filepath.Dir(f.File), o)
		rows.WriteString(row)
		fmt.Printf("%-9s %5.1f s  %s: %s\n", o, took.Seconds(), f.File, f.Says)
	}
	all := count[found] + count[survived]
	sum := fmt.Sprintf("%d of %d faults found by the tests of their own package", count[found], all)
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

// passing are the packages whose tests pass without a fault: where they do not, they would find any.
type passing map[string]bool

func (p passing) holds(dir string) error {
	if p[dir] {
		return nil
	}
	if out, err := exec.Command("go", "test", "./"+dir).CombinedOutput(); err != nil {
		return fmt.Errorf("the tests of %s fail without a fault: %w\n%s", dir, err, out)
	}
	p[dir] = true
	return nil
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
	test := exec.Command("go", "test", "-overlay", overlay, "-count=1", "-failfast", "-timeout", "5m", pkg)
	test.Env = append(os.Environ(), "TMPDIR="+dir) // a demonstration made with the fault is for nobody else
	err = test.Run()
	_ = os.RemoveAll(filepath.Join(filepath.Dir(f.File), "testdata", "rapid")) // what a property that fails leaves behind
	if err != nil {
		return found, time.Since(begun), nil
	}
	return survived, time.Since(begun), nil
}
