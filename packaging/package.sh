#!/usr/bin/env bash
# Builds an application image with its own runtime and, where the tools are there, a Debian package. Called by `kadrem package`.
#   package.sh HOME JDK TARGET
set -euo pipefail
home=$1 jdk=$2
mkdir -p "$3"
target=$(cd "$3" && pwd)
version=$(sed -n 's:.*<version>\(.*\)</version>.*:\1:p' "$home/pom.xml" | head -n 1)
say() { printf '%s\n' "$*" >&2; }

rm -rf "$target"
mkdir -p "$target/input" "$target/launchers"
for module in desk cli standins; do
  cp "$home/$module/target/lib/"*.jar "$home/$module/target/kadrem-$module-$version.jar" "$target/input/"
done
cp "$home/desk/src/main/launch/compiler.json" "$target/input/"
# styles in the form that need not be parsed at a start
mkdir -p "$target/styles/kadrem/desk/style"
cp "$home"/desk/src/main/resources/kadrem/desk/style/*.css "$target/styles/kadrem/desk/style/"
"$jdk/bin/java" -cp "$target/input/*" "$home/packaging/BinaryStyles.java" "$target/styles/kadrem/desk/style" >/dev/null 2>&1
(cd "$target/styles" && "$jdk/bin/jar" uf "$target/input/kadrem-desk-$version.jar" kadrem/desk/style/*.bss)

common='--enable-native-access=ALL-UNNAMED --sun-misc-unsafe-memory-access=allow -XX:+UseG1GC -XX:G1PeriodicGCInterval=8000 -XX:+UseCompactObjectHeaders -Xms32m -XX:MinHeapFreeRatio=5 -XX:MaxHeapFreeRatio=10 -Dfile.encoding=UTF-8 -Dlogback.statusListenerClass=ch.qos.logback.core.status.NopStatusListener'
places='-Dkadrem.home=$APPDIR -Dkadrem.program=$APPDIR/kadrem -Dkadrem.generator.libraries=$APPDIR -Dkadrem.generator.cache=$APPDIR/generator.aot'
{
  echo "main-jar=kadrem-cli-$version.jar"
  echo "main-class=kadrem.cli.Main"
  echo "java-options=$common $places"
  echo "linux-shortcut=false"
} >"$target/launchers/cli.properties"
{
  echo "main-jar=kadrem-standins-$version.jar"
  echo "main-class=kadrem.standins.Main"
  echo "java-options=--sun-misc-unsafe-memory-access=allow -Dlogback.statusListenerClass=ch.qos.logback.core.status.NopStatusListener"
  echo "linux-shortcut=false"
} >"$target/launchers/standin.properties"

say "Linking a runtime and building the image …"
"$jdk/bin/jpackage" --type app-image --name kadrem --app-version "$version" --dest "$target" --input "$target/input" \
  --main-jar "kadrem-desk-$version.jar" --main-class kadrem.desk.start.Desk \
  --add-modules java.se,jdk.attach,jdk.compiler,jdk.crypto.ec,jdk.httpserver,jdk.jfr,jdk.management,jdk.management.agent,jdk.naming.dns,jdk.unsupported,jdk.zipfs \
  --jlink-options "--strip-debug --no-header-files --no-man-pages --compress zip-6" \
  --java-options "$common $places -XX:+UnlockDiagnosticVMOptions -XX:CompilerDirectivesFile=\$APPDIR/compiler.json" \
  --add-launcher "kadrem-cli=$target/launchers/cli.properties" \
  --add-launcher "kadrem-standin=$target/launchers/standin.properties"
image=$target/kadrem
# in the folder that a Debian package takes over, too
cp -R "$home/packaging/kadrem" "$home/demo" "$image/lib/app/"
for file in LICENSE NOTICE SECURITY.md packaging/bill-of-materials.json; do [ ! -f "$home/$file" ] || cp "$home/$file" "$image/lib/app/"; done
ln -s lib/app/kadrem "$image/kadrem"

# The classes that a start needs are kept parsed and linked in a cache (JEP 483, JEP 514), found by one start that opens every station.
train() { # CONFIGURATION CACHE COMMAND...
  local configuration=$1 cache=$2
  shift 2
  cp "$configuration" "$configuration.plain"
  printf 'java-options=-XX:AOTCacheOutput=%s\n' "$cache" >>"$configuration"
  "$@" >"$target/training.log" 2>&1 || true
  mv "$configuration.plain" "$configuration"
  if [ -s "$cache" ]; then
    printf 'java-options=-XX:AOTCache=$APPDIR/%s\n' "$(basename "$cache")" >>"$configuration"
  else
    say "… no class cache was made; starts take longer. See $target/training.log"
  fi
}
if [ -z "${KADREM_NO_CACHE:-}" ]; then
  say "Finding out what a start needs …"
  app=$image/lib/app
  cp -R "$home/demo/harbour-berths" "$target/training-study"
  window=("$image/bin/kadrem" --study "$target/training-study" --practise)
  if [ -z "${DISPLAY:-}" ] && command -v xvfb-run >/dev/null; then
    window=(xvfb-run -a -s "-screen 0 1400x900x24" "${window[@]}")
  fi
  train "$app/kadrem.cfg" "$app/window.aot" "${window[@]}"
  train "$app/kadrem-cli.cfg" "$app/cli.aot" "$image/bin/kadrem-cli" compare "$target/training-study" --format json
  rm -rf "$target/training-study"
  # the process of the load, with the options and libraries with which Kadrem starts it
  "$image/lib/runtime/bin/java" --enable-native-access=ALL-UNNAMED --sun-misc-unsafe-memory-access=allow \
    -XX:+UseSerialGC -Xms256m -Xmn128m -Xmx2g -XX:-UsePerfData -Dfile.encoding=UTF-8 \
    -Dlogback.statusListenerClass=ch.qos.logback.core.status.NopStatusListener \
    -Dlogback.configurationFile=kadrem/load/generator/logback.xml -Xlog:disable -Xlog:all=error:stderr \
    -XX:AOTCacheOutput="$app/generator.aot" -cp "$(printf '%s\n' "$app"/*.jar | LC_ALL=C sort | paste -sd:)" \
    kadrem.load.generator.Generator --practise 3 >"$target/practice.log" 2>&1 \
    || say "… no cache for the process of the load was made; first runs warm up by themselves. See $target/practice.log"
fi
rm -rf "$target/input" "$target/launchers" "$target/styles"
say "The image: $image/kadrem"

if command -v dpkg-deb >/dev/null && command -v fakeroot >/dev/null; then
  say "Building a Debian package …"
  "$jdk/bin/jpackage" --type deb --name kadrem --app-version "$version" --dest "$target" --app-image "$image" \
    --description "Chooses between alternatives by experiment" --linux-shortcut --linux-menu-group Development \
    --linux-deb-maintainer "kadrem@localhost" --resource-dir "$home/packaging/deb" \
    --linux-package-deps "libgtk-3-0t64 | libgtk-3-0, libgl1"
  say "The package: $(ls "$target"/*.deb)"
else
  say "No Debian package: that takes dpkg-deb and fakeroot."
fi
