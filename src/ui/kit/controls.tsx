'use client';

import {
  useCallback,
  useEffect,
  useRef,
  type ComponentProps,
  type ComponentType,
  type ReactNode,
} from 'react';
import {
  Button,
  Checkbox,
  Dialog,
  DialogTrigger,
  I18nProvider,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  NumberField,
  Popover,
  Pressable,
  TextField,
} from 'react-aria-components';
import { css, styled } from 'styled-components';
import { useMay } from './me';
import { colour, font } from './theme';
import { controls as wording } from './words';

const MainButtonLook = styled(Button)`
  background: ${colour.violet};
  color: #fff;
  font-weight: 700;
  border: 0;
  border-radius: 3px;
  padding: 9px 16px;
  cursor: pointer;
  white-space: nowrap;
  &[data-hovered] {
    background: ${colour.violetDeep};
  }
  &[data-disabled] {
    background: ${colour.ruleStrong};
    color: ${colour.ink};
    cursor: default;
  }
`;

const QuietButtonLook = styled(Button)`
  background: ${colour.paper};
  border: 1px solid ${colour.ruleStrong};
  border-radius: 3px;
  padding: 5px 11px;
  font-size: 13px;
  cursor: pointer;
  white-space: nowrap;
  &[data-hovered] {
    border-color: ${colour.ink};
  }
  &[data-disabled] {
    color: ${colour.out};
    border-color: ${colour.rule};
    cursor: default;
  }
  &[aria-pressed='true'] {
    background: ${colour.violetWash};
    border-color: ${colour.violet};
  }
`;

const PlainButtonLook = styled(Button)`
  background: none;
  border: 0;
  padding: 4px 8px;
  cursor: pointer;
  color: ${colour.inkSoft};
  border-radius: 3px;
  &[data-hovered] {
    color: ${colour.ink};
  }
`;

interface Pressed extends ComponentProps<typeof Button> {
  /** It changes nothing, so viewers see it too. */
  looks?: boolean;
}
const absentForLookers = (Styled: ComponentType<ComponentProps<typeof Button>>) =>
  function PressedButton({ looks, ...props }: Pressed) {
    return useMay() || looks ? <Styled {...props} /> : null;
  };
/** The next step: the main button of a screen. */
export const MainButton = absentForLookers(MainButtonLook);
export const QuietButton = absentForLookers(QuietButtonLook);
export const PlainButton = absentForLookers(PlainButtonLook);

/** The words of a sentence. */
export const Sentence = styled.p<{ $minor?: boolean }>`
  font-size: ${(p) => (p.$minor ? '14px' : '16px')};
  line-height: 1.72;
  text-wrap: pretty;
`;

/** A part that is not in a sentence looks like the text around it. */
const PlainWords = styled.span`
  white-space: nowrap;
  cursor: pointer;
  padding: 4px 8px;
  border-radius: 3px;
  color: ${colour.inkSoft};
  b & {
    padding: 0;
    color: ${colour.ink};
  }
  &:hover,
  &[aria-expanded='true'] {
    color: ${colour.violetDeep};
  }
`;

const PartWords = styled.span`
  border-bottom: 1.5px solid ${colour.violet};
  padding: 0 0 1px;
  margin: 0;
  font-weight: 700;
  color: ${colour.violetDeep};
  cursor: pointer;
  &:hover,
  &[aria-expanded='true'] {
    background: ${colour.violetWash};
  }
`;

export const Pop = styled(Popover)`
  background: ${colour.paper};
  border: 1px solid ${colour.ink};
  border-radius: 3px;
  box-shadow: 3px 3px 0 rgb(29 26 38 / 9%);
  max-width: 620px;
  overflow: auto;
`;

export const Editor = styled(Dialog)`
  padding: 14px 16px;
  outline: none;
  font-size: 14px;
  display: grid;
  gap: 11px;
`;

/** An underlined part of a sentence: it reads as words and opens the small editor made for it. */
export function Part({
  children,
  label,
  editor,
  plain = false,
  looks = false,
  acts = false,
  defaultOpen,
}: {
  children: ReactNode;
  label: string;
  /** Its editor changes nothing, so viewers see it too. */
  looks?: boolean;
  /** It does something and states no decision, so viewers do not see it. */
  acts?: boolean;
  /** It is not part of a sentence. */
  plain?: boolean;
  defaultOpen?: boolean;
  editor: ReactNode | ((close: () => void) => ReactNode);
}) {
  const may = useMay();
  // for viewers the sentence stays and states the decision; a part that only opens something is not
  // shown
  if (!may && !looks) return plain || acts ? null : <b>{children}</b>;
  return (
    <DialogTrigger defaultOpen={defaultOpen}>
      {/* a span and not a button, so that it wraps with the sentence it is part of */}
      <Pressable>
        {plain ? (
          <PlainWords role="button" tabIndex={0} title={label}>
            {children}
          </PlainWords>
        ) : (
          <PartWords role="button" tabIndex={0} title={label}>
            {children}
          </PartWords>
        )}
      </Pressable>
      <Pop placement="bottom start" offset={4}>
        <Editor aria-label={label}>
          {({ close }) => (typeof editor === 'function' ? editor(close) : editor)}
        </Editor>
      </Pop>
    </DialogTrigger>
  );
}

const Options = styled(ListBox)`
  outline: none;
  display: grid;
  gap: 2px;
  margin: -4px -6px;
  min-width: 240px;
  max-height: 360px;
  overflow: auto;
`;
/** What an option of a list does under the pointer and the keys. */
export const choosable = css`
  border-radius: 2px;
  cursor: pointer;
  outline: none;
  &[data-focused],
  &[data-hovered] {
    background: ${colour.violetWash};
  }
`;
const Option = styled(ListBoxItem)`
  ${choosable};
  padding: 6px 8px;
  &[data-selected] {
    font-weight: 700;
  }
  small {
    display: block;
    font-weight: 400;
    color: ${colour.inkSoft};
    font-size: 12.5px;
    line-height: 1.35;
    max-width: 340px;
  }
`;

export interface Choice<T extends string> {
  id: T;
  name: string;
  about?: string;
  /** Small print, on hover. */
  title?: string;
}

/** A short list to choose one from; choosing closes the editor. */
export function Choose<T extends string>({
  label,
  choices,
  value,
  onChange,
}: {
  label: string;
  choices: readonly Choice<T>[];
  value: T | undefined;
  onChange: (id: T) => void;
}) {
  return (
    <Options
      aria-label={label}
      selectionMode="single"
      escapeKeyBehavior="none"
      autoFocus
      selectedKeys={value === undefined ? [] : [value]}
      onSelectionChange={(keys) => {
        // choosing the chosen option again deselects it in the list; it counts as chosen all the
        // same
        const [key = value] = keys === 'all' ? [] : [...keys];
        if (key !== undefined) onChange(key as T);
      }}
    >
      {choices.map((choice) => (
        <Option key={choice.id} id={choice.id} textValue={choice.name}>
          <span title={choice.title}>{choice.name}</span>
          {choice.about && <small title={choice.title}>{choice.about}</small>}
        </Option>
      ))}
    </Options>
  );
}

/** A sentence part that is a choice from a short list. */
export function ChoicePart<T extends string>({
  label,
  choices,
  value,
  onChange,
  looks,
  acts,
  children,
}: {
  label: string;
  looks?: boolean;
  acts?: boolean;
  choices: readonly Choice<T>[];
  value: T | undefined;
  onChange: (id: T) => void;
  children?: ReactNode;
}) {
  return (
    <Part
      label={label}
      looks={looks}
      acts={acts}
      editor={(close) => (
        <Choose
          label={label}
          choices={choices}
          value={value}
          onChange={(id) => {
            onChange(id);
            close();
          }}
        />
      )}
    >
      {children ?? choices.find((c) => c.id === value)?.name ?? 'choose'}
    </Part>
  );
}

const fieldBox = `
  display: grid;
  gap: 3px;
  label { font-size: 12.5px; color: ${colour.inkSoft}; }
  input { border: 1px solid ${colour.ruleStrong}; border-radius: 2px; padding: 5px 8px; background: #fff; min-width: 0; width: 100%; }
`;
const NumberBox = styled(NumberField)`
  ${fieldBox}
`;
const TextBox = styled(TextField)`
  ${fieldBox}
`;

/**
 * Keys in a field for a measure, before the field itself gets them.
 *
 * If there are decimals, a comma becomes a point while it is typed or pasted: half of the countries
 * write it so, and as a thousands separator it would multiply the number. Among whole numbers it
 * can only be a separator. The arrows use `steps`.
 */
function useMeasureKeys(whole: boolean, steps: (typed: string, by: 1 | -1) => void) {
  const latest = useRef({ whole, steps });
  useEffect(() => {
    latest.current = { whole, steps };
  });
  return useCallback((input: HTMLInputElement | null) => {
    if (!input) return undefined;
    const taken = (event: Event) => {
      event.preventDefault();
      event.stopPropagation();
    };
    const text = (event: InputEvent | ClipboardEvent) => {
      const said =
        'clipboardData' in event ? event.clipboardData?.getData('text/plain').trim() : event.data;
      if (!said?.includes(',')) return;
      taken(event);
      input.setRangeText(
        said.replaceAll(',', latest.current.whole || said.includes('.') ? '' : '.'),
        input.selectionStart ?? input.value.length,
        input.selectionEnd ?? input.value.length,
        'end',
      );
      input.dispatchEvent(new Event('input', { bubbles: true }));
    };
    const key = (event: KeyboardEvent) => {
      if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
      taken(event);
      latest.current.steps(input.value, event.key === 'ArrowUp' ? 1 : -1);
    };
    const ending = new AbortController();
    const early = { capture: true, signal: ending.signal };
    input.addEventListener('beforeinput', text, early);
    input.addEventListener('paste', text, early);
    input.addEventListener('keydown', key, early);
    return () => ending.abort();
  }, []);
}

/**
 * A measure with its unit in the label. Applied on blur or Enter. A fractional measure accepts any
 * digits; its steps are for the arrow keys.
 */
export function Measure({
  label,
  value,
  onChange,
  min,
  max,
  step = 0.1,
  digits = 2,
}: {
  label: string;
  value: number;
  onChange: (value: number) => void;
  min: number;
  max: number;
  step?: number;
  /** Digits shown after the point, at most. */
  digits?: number;
}) {
  const whole = Number.isInteger(step);
  const keys = useMeasureKeys(whole, (typed, by) => {
    const is = typed.trim() === '' ? NaN : Number(typed);
    const from = Number.isFinite(is) ? is : value;
    const next = (whole ? Math.round(from) : from) + by * step;
    onChange(Number(Math.min(max, Math.max(min, next)).toFixed(digits)));
  });
  return (
    // the words are English whatever the browser speaks, and so is the point
    <I18nProvider locale="en-GB">
      <NumberBox
        value={value}
        minValue={min}
        maxValue={max}
        step={whole ? step : 10 ** -digits}
        isWheelDisabled
        onChange={(v) => Number.isFinite(v) && onChange(v)}
        formatOptions={{ maximumFractionDigits: digits, useGrouping: false }}
      >
        <Label>{label}</Label>
        <Input ref={keys} />
      </NumberBox>
    </I18nProvider>
  );
}

export function Words({
  label,
  value,
  onChange,
  autoFocus,
  onEnter,
  name,
  type,
  autoComplete,
}: {
  label: string;
  /** Undefined if a form reads it by its name. */
  value?: string;
  onChange?: (value: string) => void;
  autoFocus?: boolean;
  onEnter?: () => void;
  name?: string;
  type?: 'password' | 'email' | 'date';
  /** The autofill name of the field (HTML). */
  autoComplete?: string;
}) {
  return (
    <TextBox
      name={name}
      type={type}
      autoComplete={autoComplete}
      value={value}
      onChange={onChange}
      autoFocus={autoFocus}
      onKeyDown={(e) => {
        if (e.key === 'Enter') onEnter?.();
        // Escape is for the editor round it
        else e.continuePropagation();
      }}
    >
      <Label>{label}</Label>
      <Input />
    </TextBox>
  );
}

/** A check box with its words, or with a label for screen readers. */
export function Check({
  on,
  onChange,
  children,
  label,
  looks,
}: {
  /** It changes nothing, so viewers see it too. */
  looks?: boolean;
  on: boolean;
  onChange: (on: boolean) => void;
  children?: ReactNode;
  label?: string;
}) {
  const may = useMay();
  if (!may && !looks) return null;
  return (
    <Checkbox isSelected={on} onChange={onChange} aria-label={label} style={{ cursor: 'pointer' }}>
      <Tick />
      {children}
    </Checkbox>
  );
}

/** The box of a React Aria check box, before its words. */
function Tick() {
  return <TickBox aria-hidden />;
}
const TickBox = styled.span`
  pointer-events: none;
  display: inline-block;
  flex: none;
  width: 15px;
  height: 15px;
  margin-right: 8px;
  vertical-align: -2px;
  border: 1px solid ${colour.inkSoft};
  border-radius: 2px;
  background: ${colour.paper};
  [data-selected] > & {
    border-color: ${colour.violet};
    background: ${colour.violet}
      url("data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 10 10'%3E%3Cpath d='M1.8 5.3 4 7.5 8.2 2.8' fill='none' stroke='white' stroke-width='1.7'/%3E%3C/svg%3E")
      center / 12px 12px no-repeat;
  }
  [data-focus-visible] > & {
    outline: 2px solid ${colour.violet};
    outline-offset: 1px;
  }
`;

/** A column in a sentence or in a content. */
export const Chip = styled.span<{ $tone?: 'plain' | 'look' }>`
  display: inline-block;
  background: ${(p) => (p.$tone === 'look' ? colour.lookWash : colour.violetWash)};
  color: ${(p) => (p.$tone === 'look' ? colour.look : colour.violetDeep)};
  font: 400 0.92em/1.35 ${font.code};
  padding: 1px 6px;
  border-radius: 2px;
  margin: 0 1px;
`;

export const Small = styled.p`
  font-size: 12.5px;
  color: ${colour.inkSoft};
`;

export const Warning = styled.p`
  color: ${colour.look};
  font-size: 13px;
`;

export const ErrorLine = styled.p`
  color: ${colour.failed};
  font-size: 14px;
`;

/** Heard and not seen. */
export const unseen = css`
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
  white-space: nowrap;
`;
export const VisuallyHidden = styled.span`
  ${unseen};
`;

/** The bar below a preview: where to go, and at the right the zoom. */
export const goBar = css`
  .go {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
    padding: 8px 20px;
    border-top: 1px solid ${colour.rule};
    font-size: 13px;
    color: ${colour.inkSoft};
  }
  .go button {
    padding: 4px 8px;
  }
  .measure {
    margin-left: auto;
    font: 400 13px/1 ${font.code};
    color: ${colour.ink};
    white-space: nowrap;
    display: flex;
    gap: 6px;
    align-items: center;
  }
`;

/** Zoom out and in. `zoom` is 1 if it fits. */
export function ZoomButtons({
  zoom,
  setZoom,
  most,
}: {
  zoom: number;
  setZoom: (zoom: number) => void;
  most: number;
}) {
  return (
    <>
      <QuietButton
        looks
        aria-label={wording.smaller}
        isDisabled={zoom <= 0.5}
        onPress={() => setZoom(zoom / 1.25)}
      >
        −
      </QuietButton>
      <QuietButton
        looks
        aria-label={wording.larger}
        isDisabled={zoom >= most}
        onPress={() => setZoom(zoom * 1.25)}
      >
        +
      </QuietButton>
    </>
  );
}
