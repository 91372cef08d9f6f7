import { PLAN_QUESTIONS, readProse, writeProse } from '@vole/core';
import { useState } from 'react';
import { changeText } from '../../session/session.ts';
import { useAppSelector } from '../../store/store.ts';

/** The questions to answer before coding; what is answered stands as prose under the title of the text. */
export function PlanPanel() {
  const text = useAppSelector((state) => state.project.text);
  const { answers } = readProse(text);
  return (
    <div className="grid gap-2.5">
      {PLAN_QUESTIONS.map(({ heading, asks }) => (
        <Answer
          key={`${heading} ${answers[heading]}`}
          heading={heading}
          asks={asks}
          answer={answers[heading]}
          onAnswer={(words) => changeText(writeProse(text, heading, words))}
        />
      ))}
    </div>
  );
}

interface AnswerProps {
  readonly heading: string;
  readonly asks: string;
  readonly answer: string;
  readonly onAnswer: (words: string) => void;
}

function Answer({ heading, asks, answer, onAnswer }: AnswerProps) {
  const [words, setWords] = useState(answer);
  return (
    <label>
      <b className="font-title font-semibold">{heading}</b> <span className="text-faint">{asks}</span>
      <textarea
        rows={words.length > 70 ? 3 : 1}
        className="mt-0.5 w-full rounded-sm border border-line bg-sheet px-2 py-1"
        value={words}
        onChange={(event) => setWords(event.target.value)}
        onBlur={() => words !== answer && onAnswer(words)}
      />
    </label>
  );
}
