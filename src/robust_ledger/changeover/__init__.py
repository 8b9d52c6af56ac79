"""The changeover day: tasks, schedule, holds, torques, voltages."""
