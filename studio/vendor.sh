#!/usr/bin/env bash
# Fetch the pinned front-end packages with npm and keep what the pages use, with the licences.
set -euo pipefail
cd "$(dirname "$0")/static/vendor"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
get() { # package version -> unpacked in $work/NAME
  local dir="$work/${1//\//-}"
  mkdir -p "$dir"
  (cd "$work" && npm pack --silent --ignore-scripts "$1@$2" | tail -n 1 | xargs -I{} tar -xzf {} -C "$dir" --strip-components 1)
  echo "$dir"
}
d=$(get bootstrap 5.3.9); mkdir -p bootstrap; cp "$d"/dist/css/bootstrap.min.css "$d"/dist/js/bootstrap.bundle.min.js "$d"/LICENSE bootstrap/
sed -i '/sourceMappingURL/d' bootstrap/*.css bootstrap/*.js
d=$(get @alpinejs/csp 3.17.4); mkdir -p alpine; cp "$d"/dist/cdn.min.js alpine/alpine-csp.min.js
# the package states its licence and author in package.json and ships no licence file
node -e '
  const p = require(process.argv[1]);
  console.log(`${p.name} ${p.version}\nLicence: ${p.license}\nCopyright ${p.author?.name || p.author || "the Alpine.js contributors"}\n`);
' "$d/package.json" > alpine/LICENSE
sed -n '/^Permission is hereby/,$p' bootstrap/LICENSE >> alpine/LICENSE
d=$(get idiomorph 0.8.0); mkdir -p idiomorph; cp "$d"/dist/idiomorph.esm.js "$d"/LICENSE idiomorph/
d=$(get bootstrap-icons 1.13.2); mkdir -p icons; cp "$d"/LICENSE icons/
for i in arrow-counterclockwise arrow-clockwise plus-lg zoom-in layout-sidebar layout-sidebar-reverse zoom-out arrows-fullscreen image square circle cursor trash copy \
  box-arrow-in-down-right box-arrow-up-right chevron-up chevron-down layers eye download three-dots arrow-down-up x-lg \
  question-circle pencil check-lg exclamation-triangle arrows-move hand-index images door-open arrow-left file-earmark-image filetype-svg \
  lock unlock eye-slash align-start align-center align-end align-top align-middle align-bottom distribute-horizontal \
  distribute-vertical symmetry-vertical symmetry-horizontal bezier2 pen fonts grid-3x3 arrows-collapse bounding-box node-plus collection clock-history bookmark; do
  cp "$d/icons/$i.svg" icons/
done
d=$(get @fontsource/bitter 5.3.0); mkdir -p fonts; cp "$d"/files/bitter-latin-{600,700}-normal.woff2 fonts/; cp "$d"/LICENSE fonts/LICENSE.bitter
d=$(get @fontsource/atkinson-hyperlegible 5.3.0); cp "$d"/files/atkinson-hyperlegible-latin-{400,700}-normal.woff2 fonts/; cp "$d"/LICENSE fonts/LICENSE.atkinson-hyperlegible
# fonts for lettering: HarfBuzz reads them as TrueType, so they are unpacked once, here
letters=../../../outline/shapes/fonts; mkdir -p "$letters"
for font in alfa-slab-one:400 archivo-black:400 bebas-neue:400 league-gothic:400 pacifico:400 kaushan-script:400 \
  abril-fatface:400 bitter:700 josefin-sans:700 caveat-brush:400 bungee:400 atkinson-hyperlegible:700; do
  name=${font%:*}; weight=${font#*:}
  d=$(get "@fontsource/$name" 5.3.0)
  ../../../.venv/bin/python -c '
import sys
from fontTools.ttLib import TTFont
font = TTFont(sys.argv[1], recalcTimestamp=False)
font.flavor = None
font.save(sys.argv[2])
' "$d/files/$name-latin-$weight-normal.woff2" "$letters/$name.ttf"
  cp "$d/LICENSE" "$letters/LICENSE.$name"
done
echo "vendored into studio/static/vendor and outline/shapes/fonts"
