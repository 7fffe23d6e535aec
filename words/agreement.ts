import type { Model } from '../core/anatomy/index.ts';
import { tellMoney, type AgreementTerms, type Money } from '../core/counter/index.ts';
import type { Plan } from '../core/dive/index.ts';
import { fill } from './icu.ts';
import type { Language } from './language.ts';
import { spoken } from './spoken.ts';
import { nameOfLoss, sentence, tell } from './tell.ts';

/** What the customer sees and signs, line by line. It is kept with the signature as it was shown. */
export function agreementText(
  model: Model,
  plan: Plan,
  terms: AgreementTerms,
  shop: string,
  language: Language = spoken,
): string[] {
  const { tag, agreement } = language;
  const { losses, limit, currency, data, unfinished } = terms;
  const { maker, name, body } = model.anatomy;
  const lossLines = losses.flatMap((id) => {
    const line = id === 'cold-seam' ? agreement.atRisk : agreement.lost;
    const head = fill(tag, line, { loss: nameOfLoss(model, id, language) });
    const told = plan.losses.filter((l) => l.function === id);
    if (told.length === 0) return [head];
    return told.map((l) => {
      const why = `${sentence(tell(model, l.because, language))}.`;
      return `${head} ${why} ${tell(model, l.remedy, language)}`.trim();
    });
  });
  const parts = plan.replace.map((id) => model.nameOf(id)).join(', ') || agreement.nothingReplaced;
  const upTo = (most: Money) => fill(tag, agreement.atMost, { price: tellMoney(most, currency) });
  return [
    fill(tag, agreement.repairs, { shop, device: `${maker} ${name}`, parts }),
    ...(lossLines.length > 0 ? lossLines : [agreement.nothingLost]),
    ...(body.ingress ? [fill(tag, agreement.moisture, { ingress: body.ingress })] : []),
    limit === null ? agreement.noLimit : upTo(limit),
    agreement.data[data],
    agreement.unfinished[unfinished],
    agreement.law,
  ];
}
