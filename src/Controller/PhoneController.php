<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Tray\Holdings;
use Geschenk\App\Tray\Intake;
use Geschenk\App\Tray\NotLookedYet;
use Geschenk\App\Tray\PhoneView;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;

final readonly class PhoneController
{
    public function __construct(private PhoneDirectory $phones, private PhoneView $view, private Intake $intake, private Holdings $holdings)
    {
    }

    /** The phones on the bench. */
    #[Route('/api/phones', methods: ['GET'])]
    public function bench(): JsonResponse
    {
        return new JsonAnswer(['phones' => array_map(fn (string $serial): array => ['live' => $this->view->live($serial, Intake::APP), 'tray' => $this->intake->trayOf($serial)], $this->phones->serials())]);
    }

    /** What a phone holds; why not, where it can't be seen. */
    #[Route('/api/phones/{serial}/holdings', methods: ['GET'])]
    public function holdings(string $serial): JsonResponse
    {
        try {
            $counts = $this->holdings->read($this->phones->link($serial), Intake::APP);
        } catch (PhoneUnplugged|PhoneRefuses|UnusableInput|NotLookedYet $hindrance) {
            return new JsonAnswer(['readable' => false, 'looking' => $hindrance instanceof NotLookedYet, 'why' => $hindrance->getMessage(), 'sealed' => $this->sealed($serial), 'counts' => null]);
        }

        return new JsonAnswer(['readable' => true, 'looking' => false, 'why' => null, 'sealed' => null, 'counts' => [...$counts, 'newest_at' => Time::ofMilliseconds($counts['newest_at'])]]);
    }

    /** @return array{bytes: int, made_at: string|null}|null */
    private function sealed(string $serial): ?array
    {
        try {
            $sealed = $this->holdings->sealed($this->phones->link($serial), Intake::APP);
        } catch (PhoneUnplugged|PhoneRefuses) {
            return null;
        }

        return null === $sealed ? null : ['bytes' => $sealed->bytes, 'made_at' => Time::ofMilliseconds($sealed->changedAt * 1000)];
    }
}
