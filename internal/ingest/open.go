package ingest

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"strings"

	"turret/internal/app"
)

// Limits of a ZIP.
const maxMembers = 200

// named is a part with the name that tells it from the others of its file, empty where it is the only one.
type named struct {
	name string
	part part
	done func()
}

// open finds the sheets of a file on disk. What is wrong with the file as a whole comes back as a *problemError.
func open(at, name string) ([]named, error) {
	f, err := os.Open(at)
	if err != nil {
		return nil, err
	}
	info, err := f.Stat()
	if err != nil {
		return nil, errors.Join(err, f.Close())
	}
	if info.Size() > MaxBytes {
		_ = f.Close()
		return nil, tooLong(name)
	}
	reopen := func() (io.ReadCloser, error) { return os.Open(at) }
	list, err := sheets(f, info.Size(), name, reopen)
	if err != nil {
		return nil, errors.Join(err, f.Close())
	}
	list[len(list)-1].done = func() { _ = f.Close() }
	return list, nil
}

func tooLong(name string) error { return unreadable(name, fmt.Sprintf("at most %d MB", MaxBytes>>20)) }

type source interface {
	io.Reader
	io.ReaderAt
}

func sheets(f source, size int64, name string, reopen func() (io.ReadCloser, error)) ([]named, error) {
	head := make([]byte, 512)
	n, err := f.ReadAt(head, 0)
	if err != nil && !errors.Is(err, io.EOF) {
		return nil, err
	}
	switch trimmed := bytes.TrimLeft(bytes.TrimPrefix(head[:n], []byte("\ufeff")), " \t\r\n"); {
	case bytes.HasPrefix(head, []byte("PK\x03\x04")):
		return zipped(f, size, name)
	case bytes.HasPrefix(head, []byte("\xd0\xcf\x11\xe0")):
		return nil, unreadable(name, "a workbook saved as XLSX; this is an older form or has a password")
	case len(trimmed) > 0 && (trimmed[0] == '[' || trimmed[0] == '{') && !strings.HasSuffix(strings.ToLower(name), ".csv"):
		return arrays(name, reopen)
	}
	return []named{{part: newCSV(name, f)}}, nil
}

func arrays(name string, reopen func() (io.ReadCloser, error)) ([]named, error) {
	found, err := jsonSheets(name, reopen)
	if err != nil {
		return nil, err
	}
	list := make([]named, 0, len(found))
	for _, p := range found {
		list = append(list, named{name: p.key, part: p})
	}
	if len(list) == 0 {
		return nil, unreadable(name, "an array of objects; the file has none")
	}
	return list, nil
}

// zipped opens a workbook, or the files of a ZIP.
func zipped(f io.ReaderAt, size int64, name string) ([]named, error) {
	z, err := zip.NewReader(f, size)
	if err != nil {
		return nil, unreadable(name, "a ZIP or XLSX that can be opened ("+err.Error()+")")
	}
	for _, m := range z.File {
		if m.Name == "xl/workbook.xml" || m.Name == "[Content_Types].xml" {
			return workbook(io.NewSectionReader(f, 0, size), name)
		}
	}
	var list []named
	left := int64(MaxUnpacked)
	for _, m := range z.File {
		if m.FileInfo().IsDir() || strings.HasPrefix(m.Name, "__MACOSX/") || strings.HasPrefix(path.Base(m.Name), ".") {
			continue
		}
		if len(list) > maxMembers {
			return nil, unreadable(name, fmt.Sprintf("at most %d files in a ZIP", maxMembers))
		}
		b, err := unpack(m, name, &left)
		if err != nil {
			return nil, err
		}
		member := cleanName(m.Name)
		if bytes.HasPrefix(b, []byte("PK\x03\x04")) && !strings.HasSuffix(strings.ToLower(member), ".xlsx") {
			return nil, unreadable(name+" › "+member, "no ZIP within a ZIP")
		}
		found, err := sheets(bytes.NewReader(b), int64(len(b)), name+" › "+member, func() (io.ReadCloser, error) {
			return io.NopCloser(bytes.NewReader(b)), nil
		})
		if err != nil {
			return nil, err
		}
		for _, p := range found {
			p.name = strings.TrimSuffix(member+" › "+p.name, " › ")
			list = append(list, p)
		}
	}
	if len(list) == 0 {
		return nil, unreadable(name, "a ZIP with files in it; this one is empty")
	}
	return list, nil
}

// unpack reads a member into memory, and stops reading where it grows beyond what is allowed.
func unpack(m *zip.File, name string, left *int64) ([]byte, error) {
	in, err := m.Open()
	if err != nil {
		return nil, unreadable(name, "a ZIP that can be unpacked ("+err.Error()+")")
	}
	defer in.Close()
	most := min(int64(MaxBytes), *left)
	b, err := io.ReadAll(io.LimitReader(in, most+1))
	if err != nil {
		return nil, unreadable(name, "a ZIP that can be unpacked ("+err.Error()+")")
	}
	if int64(len(b)) > most {
		return nil, unreadable(name, fmt.Sprintf("files that unpack to at most %d MB each and %d MB together", MaxBytes>>20, MaxUnpacked>>20))
	}
	*left -= int64(len(b))
	return b, nil
}

// cleanName is the last part of a name as sent, without anything that a path or a screen would stumble over.
func cleanName(name string) string {
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if r < ' ' || r == 0x7f || r == 0xFFFD {
			return -1
		}
		return r
	}, name)
	if name == "" || name == "." || name == ".." || name == "/" {
		return "file"
	}
	return app.Clip(name, 200)
}

func workbook(r io.Reader, name string) ([]named, error) {
	book, err := openBook(name, r)
	if err != nil {
		return nil, err
	}
	var list []named
	for _, sheet := range book.GetSheetList() {
		list = append(list, named{name: sheet, part: &sheetPart{name: name, sheet: sheet, book: book}})
	}
	if len(list) == 0 {
		return nil, unreadable(name, "a workbook with a sheet")
	}
	return list, nil
}
