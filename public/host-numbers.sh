#!/bin/sh
# Tells Hemeron the numbers of a Linux host: processor, memory, disks, network lines and load.
#
#   HEMERON_PUSH=https://hemeron.example/push/… sh host-numbers.sh         every 30 s, until it is stopped
#   HEMERON_PUSH=… HEMERON_EVERY=0 sh host-numbers.sh                      once
#
# It needs a shell, awk, df and curl, reads /proc and changes nothing. Shares are from 0 to 1, sizes in bytes.
set -u
: "${HEMERON_PUSH:?set HEMERON_PUSH to the address of the check}"
every="${HEMERON_EVERY:-30}"
measure="${HEMERON_MEASURE:-5}"
proc="${HEMERON_PROC:-/proc}"

case "$every$measure" in *[!0-9]*) echo "HEMERON_EVERY and HEMERON_MEASURE are whole seconds" >&2; exit 2 ;; esac

# busy and whole processor time since the start, as one line
processor() { awk '$1 == "cpu" { whole = 0; for (i = 2; i <= 9; i++) whole += $i; print whole - $5 - $6, whole }' "$proc/stat"; }

# name, bytes received and bytes sent of every line but the loopback
lines() { awk 'NR > 2 { sub(":", " "); if ($1 != "lo") print $1, $2, $10 }' "$proc/net/dev" 2>/dev/null; }

numbers() {
  before="$(processor)"
  lines_before="$(lines)"
  sleep "$measure"
  after="$(processor)"
  lines_after="$(lines)"

  echo "$before $after" | awk '{ whole = $4 - $2; if (whole > 0) printf "cpu.busy %.4f\n", ($3 - $1) / whole }'
  awk '
    $1 == "MemTotal:" { total = $2 } $1 == "MemAvailable:" { free = $2 } $1 == "SwapTotal:" { swap = $2 } $1 == "SwapFree:" { swapfree = $2 }
    END { if (total > 0) { printf "memory.used %.4f\nmemory.free_bytes %.0f\n", (total - free) / total, free * 1024 }; if (swap > 0) printf "swap.used %.4f\n", (swap - swapfree) / swap }
  ' "$proc/meminfo"
  cores="$(grep -c '^processor' "$proc/cpuinfo" 2>/dev/null || echo 1)"
  awk -v cores="${cores:-1}" '{ printf "load.one %s\nload.five %s\nload.core %.4f\n", $1, $2, $1 / (cores > 0 ? cores : 1) }' "$proc/loadavg"
  awk '{ printf "uptime.seconds %.0f\n", $1 }' "$proc/uptime"
  # file systems that lie on a device; several mounts of one device count once
  df -kP 2>/dev/null | awk '
    NR > 1 && $1 ~ /^\// && !seen[$1]++ {
      mount = $6; for (i = 7; i <= NF; i++) mount = mount " " $i
      gsub(/\\/, "\\\\", mount); gsub(/"/, "\\\"", mount)
      if ($3 + $4 > 0) printf "disk.used{mount=\"%s\"} %.4f\ndisk.free_bytes{mount=\"%s\"} %.0f\n", mount, $3 / ($3 + $4), mount, $4 * 1024
    }'
  { echo "$lines_before" | sed 's/^/b /'; echo "$lines_after" | sed 's/^/a /'; } | awk -v seconds="$measure" '
    $1 == "b" && NF == 4 { received[$2] = $3; sent[$2] = $4 }
    $1 == "a" && NF == 4 && ($2 in received) && seconds > 0 && $3 >= received[$2] && $4 >= sent[$2] {
      printf "net.received{device=\"%s\"} %.0f\nnet.sent{device=\"%s\"} %.0f\n", $2, ($3 - received[$2]) / seconds, $2, ($4 - sent[$2]) / seconds
    }'
}

while :; do
  numbers | curl -fsS --max-time 20 --retry 2 -o /dev/null -H 'content-type: text/plain; version=0.0.4' --data-binary @- "$HEMERON_PUSH" || status=$?
  [ "$every" -eq 0 ] && exit "${status:-0}"
  status=0
  pause=$((every - measure))
  [ "$pause" -gt 0 ] && sleep "$pause"
done
