<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;
use Geschenk\Core\Conversion\Loss;

/**
 * Losses in words, for page and sheet.
 *
 * @phpstan-import-type LossArray from Loss
 *
 * @phpstan-type LossRow array{
 *     rule: string, sentence: string, outcome: string, choice: string,
 *     choices: list<array{key: string, words: string}>, messages: int, conversations: int,
 *     example: array{conversation: string, kind: string|null, sent_at: string|null}|null,
 * }
 */
final readonly class LossView
{
    public function __construct(private Words $words)
    {
    }

    /**
     * @param list<LossArray>       $losses
     * @param array<string, string|null> $titles   by key of the conversation
     * @param string|null           $language that of the request when none is told
     *
     * @return list<LossRow>
     */
    public function all(array $losses, array $titles, ?string $language = null): array
    {
        $rows = [];
        foreach ($losses as $loss) {
            $example = $loss['example'];
            $choices = [];
            foreach ($loss['choices'] as $key) {
                $choices[] = ['key' => $key, 'words' => $this->choice($loss['rule'], $key, $language)];
            }
            $rows[] = [
                ...$loss, 'sentence' => $this->words->say('loss.'.$loss['rule'].'.sentence', [], $language),
                'choices' => $choices,
                'example' => null === $example ? null : [
                    'conversation' => mb_scrub($titles[$example['conversation']] ?? $example['conversation']),
                    'kind' => $example['kind'], 'sent_at' => Time::ofMilliseconds($example['sent_at']),
                ],
            ];
        }

        return $rows;
    }

    private function choice(string $rule, string $key, ?string $language): string
    {
        $own = sprintf('loss.%s.%s', $rule, $key);

        return $this->words->say($this->words->has($own) ? $own : 'loss.any.'.$key, [], $language);
    }
}
