"""Holds a document to what it shows.

documents_test.py TOOL EXAMPLES SOURCE DOCUMENT [--long] [--write]

A block ```console begins with a call, "$ avrek ..." or "$ NAME ..." of an example; what follows is what it prints. "..." stands for
lines that are left out. A block ```toml whose first line is "# NAME.toml" is a file for the calls after it. Calls run in one
folder, in order, with data/ in it. A block ```console long is run with --long alone. --write puts what was printed into the document.
A block ```cpp stands in an example or in tests/docs, layout and comments apart. With a folder in place of the document, the
examples in the headers are held to the same.
"""
import os
import pathlib
import re
import subprocess
import sys
import tempfile

BLOCK = re.compile(r"^```(\w+)( long)?\n(.*?)^```$", re.MULTILINE | re.DOTALL)


def matches(shown, printed):
    """Whether the lines printed are the ones shown, where "..." stands for any number of lines."""
    pattern = "".join(r"(?:.*\n)*?" if line == "...\n" else re.escape(line) for line in shown)
    return re.fullmatch(pattern, printed) is not None


def shortened(shown, printed):
    """What was printed, with the lines left out that the document leaves out at its end."""
    lines = printed.splitlines(keepends=True)
    if "...\n" not in shown:
        return printed
    at = shown.index("...\n")
    return "".join(lines[:at] + ["...\n"] + (lines[-(len(shown) - at - 1):] if len(shown) > at + 1 else []))


def squeezed(code):
    """Code without comments and spaces, as layout differs between a document and a source."""
    return re.sub(r"\s+", "", re.sub(r"//[^\n]*", "", code))


def is_compiled(code, source):
    sources = [*source.glob("examples/*.cpp"), *source.glob("tests/docs/*.cpp"), *source.glob("tests/consumer/*.cpp")]
    return any(squeezed(code) in squeezed(file.read_text()) for file in sources)


def header_examples(text):
    """The examples in the comments of a header: lines behind "///" and five spaces, in a row."""
    for match in re.finditer(r"(?:^ *///     .*\n)+", text, re.MULTILINE):
        line = text.count("\n", 0, match.start()) + 1
        yield line, re.sub(r"^ *///", "", match[0], flags=re.MULTILINE)


def check_headers(source):
    faults = []
    for header in sorted(source.glob("include/avrek/**/*.h")):
        for line, code in header_examples(header.read_text()):
            if not is_compiled(code, source):
                faults.append(f"{header}:{line}: this code is compiled nowhere")
    return faults


def main():
    tool, examples, source, document = (pathlib.Path(argument).resolve() for argument in sys.argv[1:5])
    long, write = "--long" in sys.argv, "--write" in sys.argv
    if document.is_dir():
        faults = check_headers(source)
        print("\n".join(faults))
        return 1 if faults else 0
    text = document.read_text()
    made, position, faults = [], 0, []
    environment = {**os.environ, "PATH": f"{tool.parent}:{examples}:{os.environ['PATH']}", "NO_COLOR": "1"}
    with tempfile.TemporaryDirectory() as folder:
        os.symlink(source / "data", pathlib.Path(folder, "data"))
        for block in BLOCK.finditer(text):
            kind, is_long, body = block.groups()
            line = text.count("\n", 0, block.start()) + 1
            named = re.match(r"# ([\w-]+\.toml)\n", body)
            if kind == "toml" and named:
                pathlib.Path(folder, named[1]).write_text(body)
            if kind == "cpp" and not is_compiled(body, source):
                faults.append(f"{document}:{line}: this code is compiled nowhere")
            if kind != "console" or (is_long and not long):
                continue
            calls = [match for match in re.finditer(r"^\$ (.*(?:\\\n.*)*)\n", body, re.MULTILINE)]
            for index, call in enumerate(calls):
                end = calls[index + 1].start() if index + 1 < len(calls) else len(body)
                shown = body[call.end():end].splitlines(keepends=True)
                run = subprocess.run(call[1], shell=True, cwd=folder, env=environment, capture_output=True, text=True)
                printed = run.stdout + run.stderr
                if not matches(shown, printed):
                    faults.append(f"{document}:{line}: '{call[1]}' prints\n{printed}")
                    made += [text[position:block.start(3) + call.end()], shortened(shown, printed)]
                    position = block.start(3) + end
    if write:
        document.write_text("".join(made) + text[position:])
    print("\n".join(faults))
    return 1 if faults and not write else 0


if __name__ == "__main__":
    sys.exit(main())
