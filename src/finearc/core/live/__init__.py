"""What is computed while samples come in, each part as parameters, state and a step.

Formulas are those of the batch: frames, angles, calibration and the heading's hold are the same functions, called with
the few samples of a frame. What differs is that nothing later can be looked at: orientation comes from the filter's
causal form, gaps are bridged when they have closed, and an address is known when it ends. ``docs/architecture.md`` says
how the parts follow one another."""
