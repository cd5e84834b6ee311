#!/usr/bin/env bash
# An array job that writes a batch: each task makes its share of the roster into one folder that all nodes see.
#
#   sbatch array-job.sh apiary.ms.md data/apiaries.csv reports
#   fennick batch gather reports          when all tasks have ended
#
# A task that was killed is run again with `scontrol requeue JOB_TASK`; what it had finished stays.
#SBATCH --job-name=reports
#SBATCH --array=1-12
#SBATCH --cpus-per-task=1
set -euo pipefail
fennick batch "$1" --roster "$2" --into "$3" --part auto --jobs "${SLURM_CPUS_PER_TASK:-1}" --quiet
