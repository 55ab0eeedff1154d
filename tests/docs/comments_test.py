"""Holds the names in public comments to what there is: comments_test.py SOURCE.

A name between backticks in a comment of a public header must be a word of the code of that header, or of a header that it
includes: a parameter, a member, a constant. Names with capitals, calls, files and keys are left to the compiler's users.
"""
import pathlib
import re
import sys

WORD = re.compile(r"\b[a-z_][a-z_0-9]*\b")


def split(text):
    code, comments = [], []
    for number, line in enumerate(text.splitlines(), 1):
        before, mark, after = line.partition("//")
        code.append(before)
        if mark:
            comments.append((number, after))
    return "\n".join(code), comments


def main():
    root = pathlib.Path(sys.argv[1]) / "include"
    words, includes, comments = {}, {}, {}
    for header in sorted(root.glob("avrek/**/*.h")):
        code, said = split(header.read_text())
        name = str(header.relative_to(root))
        words[name] = set(WORD.findall(code))
        includes[name] = re.findall(r"#include <(avrek/[^>]+)>", code)
        comments[name] = said

    def known(name, seen):
        if name in seen or name not in words:
            return set()
        seen.add(name)
        return words[name].union(*(known(other, seen) for other in includes[name]))

    faults = []
    for name, said in comments.items():
        there = known(name, set())
        for number, comment in said:
            for quoted in re.findall(r"`([a-z_][a-z_0-9]*)`", comment):
                if quoted not in there:
                    faults.append(f"include/{name}:{number}: there is no '{quoted}'")
    print("\n".join(faults))
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
