<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\OfferSeen;
use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Platform;
use Geschenk\Core\WayIn\Ways;

/**
 * A phone as the API shows it: as it was seen last.
 *
 * @phpstan-type Offered array{
 *     id: string, way: string, made_at: string|null, bytes: int|null, lock: string|null, attachments: int|null,
 *     attachment_bytes: int|null, videos: int|null, why: string|null,
 *     counts: array{conversations: int, messages: int, newest_at: string|null}|null,
 * }
 * @phpstan-type Holds array{
 *     looking: bool, why: string|null, bytes: int|null, offers: list<Offered>|null,
 *     could_be_made: list<string>,
 *     counts: array{
 *         number: string, conversations: int, messages: int, attachments: int, attachment_bytes: int,
 *         newest_at: string|null, lost: int, loss_uncounted: bool,
 *     }|null,
 * }
 * @phpstan-type Account array{
 *     app: string, edition: string, version: string, number: string|null, known: bool, holds: Holds|null,
 *     signed_out: bool, sign_up: array{
 *         number: string, wants: string, texts_left: int, calls_left: int, next_ask_at: string|null,
 *     }|null,
 * }
 * @phpstan-type Live array{
 *     serial: string, maker: string, model: string, platform: string, os_version: string, on_bench: bool,
 *     plugged: bool, open: bool, unlocked: bool, debugging: bool|null, admitted: bool, managed: bool|null,
 *     battery: int|null, charging: bool|null, free_bytes: int|null, seen_at: string|null,
 *     fresh: bool, accounts: list<Account>|null,
 * }
 */
final readonly class PhoneView
{
    public function __construct(
        private Phones $phones,
        private Formats $formats,
        private Ways $ways,
        private Words $words,
    ) {
    }

    /**
     * @param array<string, Holding>|null $holdings by app; null of a phone in no open tray, which nobody looks into
     *
     * @return Live
     */
    public function live(string $serial, ?array $holdings): array
    {
        $phone = $this->phones->find($serial);
        if (null === $phone) {
            return [
                'serial' => $serial, 'maker' => '', 'model' => '', 'platform' => Platform::Android->value,
                'os_version' => '', 'on_bench' => false, 'plugged' => false, 'open' => false, 'unlocked' => false,
                'debugging' => null, 'admitted' => false, 'managed' => null, 'charging' => null,
                'battery' => null, 'free_bytes' => null, 'seen_at' => null, 'fresh' => false, 'accounts' => null,
            ];
        }
        $state = $phone->state();
        $isHere = $phone->isOnBench();

        return [
            'serial' => $serial, 'maker' => $state->maker, 'model' => $state->model,
            'platform' => $state->platform->value, 'os_version' => $state->osVersion, 'on_bench' => $isHere,
            'plugged' => $isHere && $state->plugged, 'open' => $isHere && $state->isOpen(),
            'unlocked' => $isHere && $state->unlocked, 'battery' => $isHere ? $state->battery : null,
            'charging' => $isHere ? $state->charging : null,
            'debugging' => $isHere ? $state->debugging : null, 'admitted' => $isHere && $state->admitted,
            'managed' => $isHere ? $state->settings->managed : null, 'free_bytes' => $isHere ? $state->free : null,
            'seen_at' => Time::iso($phone->seenAt()), 'fresh' => $this->phones->isFresh($phone),
            'accounts' => $isHere ? $this->accounts($state, $holdings) : null,
        ];
    }

    /**
     * @param array<string, Holding>|null $holdings
     *
     * @return list<Account>|null null while the phone does not show them
     */
    private function accounts(PhoneState $state, ?array $holdings): ?array
    {
        if (null === $state->apps) {
            return null;
        }
        $known = $this->formats->apps();
        $accounts = [];
        foreach ($state->apps as $app) {
            $isKnown = isset($known[$app->id]);
            $accounts[] = [
                'app' => $app->id, 'edition' => $known[$app->id]->edition ?? $app->name, 'version' => $app->version,
                'number' => $app->number, 'known' => $isKnown, 'signed_out' => true === $app->signedOut,
                'sign_up' => null === $app->signUp ? null : [
                    'number' => $app->signUp->number, 'wants' => $app->signUp->wants,
                    'texts_left' => $app->signUp->textsLeft, 'calls_left' => $app->signUp->callsLeft,
                    'next_ask_at' => null === $app->signUp->nextAskAt
                        ? null
                        : Time::ofMilliseconds($app->signUp->nextAskAt * 1000),
                ],
                'holds' => $isKnown && null !== $holdings
                    ? $this->holds($state, $app->id, $holdings[$app->id] ?? null)
                    : null,
            ];
        }

        return $accounts;
    }

    /** @return Holds */
    private function holds(PhoneState $phone, string $app, ?Holding $holding): array
    {
        $offers = $holding?->offers();
        $counts = $holding?->counts();
        $trouble = $holding?->trouble();

        return [
            'looking' => null === $counts && null === $trouble, 'bytes' => $holding?->bytes(),
            'why' => null === $trouble ? null : $this->words->failure($trouble, $holding->troubleParams()),
            'offers' => null === $offers ? null : array_map($this->offered(...), $offers),
            'could_be_made' => $this->ways->thatCanBeMade($phone, $app),
            'counts' => null === $counts ? null : [
                ...$counts, 'newest_at' => Time::ofMilliseconds($counts['newest_at']),
                'lost' => $counts['lost'] ?? 0, 'loss_uncounted' => $counts['loss_uncounted'] ?? false,
            ],
        ];
    }

    /** @return Offered */
    private function offered(OfferSeen $seen): array
    {
        $offer = $seen->offer;

        return [
            'id' => $offer->id(), 'way' => $offer->way, 'made_at' => Time::ofSeconds($offer->madeAt),
            'bytes' => $offer->bytes, 'lock' => $offer->lock?->value, 'attachments' => $offer->attachments,
            'attachment_bytes' => $offer->attachmentBytes, 'videos' => $offer->videos,
            'why' => null === $seen->trouble ? null : $this->words->failure($seen->trouble, $seen->params),
            'counts' => null === $seen->counts ? null : [
                ...$seen->counts, 'newest_at' => Time::ofMilliseconds($seen->counts['newest_at']),
            ],
        ];
    }
}
