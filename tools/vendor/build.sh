#!/usr/bin/env bash
# Builds gale_nook/web/static/vendor afresh from the pinned packages. Run only when a version changes.
set -euo pipefail
cd "$(dirname "$0")"
npm install --silent --no-fund --no-audit
out=../../gale_nook/web/static/vendor
mkdir -p "$out"/{htmx,idiomorph,bootstrap,fonts}
cp node_modules/htmx.org/dist/htmx.min.js "$out/htmx/"
cp node_modules/htmx.org/LICENSE "$out/htmx/LICENSE"
cp node_modules/idiomorph/dist/idiomorph-ext.min.js "$out/idiomorph/"
cp node_modules/idiomorph/LICENSE "$out/idiomorph/LICENSE"
npx sass --quiet --no-source-map --style=compressed --load-path=node_modules bootstrap-subset.scss "$out/bootstrap/bootstrap-subset.min.css"
cp node_modules/bootstrap/LICENSE "$out/bootstrap/LICENSE"
cp node_modules/@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2 "$out/fonts/"
cp node_modules/@fontsource-variable/atkinson-hyperlegible-next/LICENSE "$out/fonts/LICENSE-atkinson-hyperlegible-next"
# The marks that the text font lacks, as a small subset of DejaVu Sans.
../../.venv/bin/pyftsubset node_modules/dejavu-fonts-ttf/ttf/DejaVuSans.ttf --flavor=woff2 \
    --output-file="$out/fonts/symbols.woff2" \
    --text='⌀⅛¼⅜½⅝¾⅞≤≥→←↑↓↔≈✓✕?±°²³·−×″′Δλψθ▲▼◆●○⟲⟳⇄↶↷∠'
cp node_modules/dejavu-fonts-ttf/LICENSE "$out/fonts/LICENSE-dejavu"
