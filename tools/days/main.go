// Command days makes the Go toolchain build programs whose machine's clock tells another day, so that tests show what they hang on:
//
//	GOFLAGS=-overlay=$(go run ./tools/days 2028-02-29 $(date -u +%F)) go test ./...
//
// It writes a copy of the standard library's time.Now that is so many whole days off, below bin/_days, and prints the overlay that names
// it.
package main

import (
	"encoding/json"
	"fmt"
	"log"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"
)

const (
	reads = "\tsec, nsec, mono := runtimeNow()\n\tif mono == 0 {"
	late  = "\tsec, nsec, mono := runtimeNow()\n\tsec += %d\n\tif mono == 0 {"
)

func main() {
	log.SetFlags(0)
	if len(os.Args) != 3 {
		log.Fatal("days: expected the day to tell and the machine's, YYYY-MM-DD")
	}
	overlay, err := overlaid(os.Args[1], os.Args[2])
	if err != nil {
		log.Fatal("days: ", err)
	}
	fmt.Println(overlay)
}

// shift is how many seconds lead from the start of a day to that of another.
func shift(to, from string) (int64, error) {
	at, err := time.Parse(time.DateOnly, to)
	if err != nil {
		return 0, err
	}
	now, err := time.Parse(time.DateOnly, from)
	return int64(at.Sub(now) / time.Second), err
}

// shifted is the source of package time with its clock some seconds off.
func shifted(source string, seconds int64) (string, error) {
	if strings.Count(source, reads) != 1 {
		return "", fmt.Errorf("time.Now of this Go release does not read the clock as expected")
	}
	return strings.Replace(source, reads, fmt.Sprintf(late, seconds), 1), nil
}

func overlaid(to, from string) (path string, err error) {
	seconds, err := shift(to, from)
	if err != nil {
		return "", err
	}
	root, err := exec.Command("go", "env", "GOROOT").Output()
	if err != nil {
		return "", err
	}
	clock := filepath.Join(strings.TrimSpace(string(root)), "src", "time", "time.go")
	source, err := os.ReadFile(clock)
	if err != nil {
		return "", err
	}
	text, err := shifted(string(source), seconds)
	if err != nil {
		return "", err
	}
	dir, err := filepath.Abs(filepath.Join("bin", "_days", to))
	if err != nil {
		return "", err
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return "", err
	}
	if err := os.WriteFile(filepath.Join(dir, "time.go"), []byte(text), 0o600); err != nil {
		return "", err
	}
	list, err := json.Marshal(map[string]any{"Replace": map[string]string{clock: filepath.Join(dir, "time.go")}})
	if err != nil {
		return "", err
	}
	path = filepath.Join(dir, "overlay.json")
	return path, os.WriteFile(path, list, 0o600)
}
