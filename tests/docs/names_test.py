"""No two types of the library have one name: to the linker they would be one, and one would be used for the other.

names_test.py SOURCE_FOLDER
"""
import pathlib
import re
import sys


def types_of(file):
    """Yields the types that a file defines at the scope of a named namespace."""
    scopes = []
    for line in file.read_text().splitlines():
        opened = re.match(r"(?:inline )?namespace ?([\w:]*) \{$", line)
        defined = re.match(r"(?:struct|class|enum(?: class)?) (?:alignas\(\d+\) )?(\w+)(?!\w|::)[^;]*$", line)
        if opened:
            scopes.append(opened[1])
        elif re.match(r"\} // namespace", line) and scopes:
            scopes.pop()
        elif defined and scopes and all(scopes):
            yield "::".join(scopes) + "::" + defined[1]


def main():
    folder = pathlib.Path(sys.argv[1])
    places = {}
    for file in sorted([*folder.glob("include/**/*.h"), *folder.glob("src/**/*.h"), *folder.glob("src/**/*.cpp")]):
        for name in types_of(file):
            places.setdefault(name, []).append(file.relative_to(folder))
    if len(places) < 300:
        sys.exit(f"only {len(places)} types were found")
    twice = {name: files for name, files in places.items() if len(files) > 1}
    for name, files in twice.items():
        print(f"{name} is defined in {', '.join(map(str, files))}")
    sys.exit(1 if twice else 0)


main()
