<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Words\Shown;
use Geschenk\App\Words\Words;
use Geschenk\Standin\Phone\Bench;
use Geschenk\Standin\Phone\Faults;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\LocalBackupsOnPhone;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Standin\Phone\SigningUp;
use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** The stand-in desk: the customer's hands at the stand-in phones. A shop has none. */
final readonly class StandinController
{
    public function __construct(
        private Bench $bench,
        private Words $words,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    #[Route('/api/standin/phones', methods: ['GET'])]
    public function phones(): JsonResponse
    {
        return new JsonAnswer(['phones' => array_map($this->view(...), $this->bench->serials())]);
    }

    #[Route('/api/standin/phones/{serial}/acts', methods: ['POST'])]
    public function act(
        string $serial,
        #[MapRequestPayload('json')] HandsAct $asked,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $plain = null === $asked->typed || '' === trim($asked->typed)
            ? null
            : (string) preg_replace('/[\s()-]+/', '', $asked->typed);
        Hands::do($this->bench->phone($serial), trim($asked->act), $plain);
        $this->log->note($user->getUserIdentifier(), 'hands', null, [
            'serial' => $serial, 'hands' => mb_substr(mb_scrub(trim($asked->act)), 0, 60),
        ]);

        return new JsonAnswer($this->view($serial));
    }

    #[Route('/api/standin/phones/{serial}/cable', methods: ['PUT'])]
    public function cable(
        string $serial,
        #[MapRequestPayload('json')] CableSpeed $speed,
        #[CurrentUser] User $user,
    ): JsonResponse {
        Hands::setCableSpeed($this->bench->phone($serial), $speed->megabytesPerSecond);
        $this->log->note($user->getUserIdentifier(), 'hands', null, ['serial' => $serial, 'hands' => 'cable']);

        return new JsonAnswer($this->view($serial));
    }

    #[Route('/api/standin/phones/{serial}/plan', methods: ['POST'])]
    public function plan(
        string $serial,
        #[MapRequestPayload('json')] Plan $plan,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $phone = $this->bench->phone($serial);
        if (Plan::MINUTES === $plan->when) {
            Faults::planForMoment($phone, $plan->fault, $this->clock->now()->getTimestamp() + 60 * $plan->amount);
        } else {
            Faults::planWhileCopying($phone, $plan->fault, $plan->amount, $this->toCopy($phone->state()['owner']));
        }
        $this->log->note($user->getUserIdentifier(), 'hands', null, [
            'serial' => $serial, 'hands' => 'plan '.$plan->fault,
        ]);

        return new JsonAnswer($this->view($serial));
    }

    #[Route('/api/standin/phones/{serial}/plan', methods: ['DELETE'])]
    public function forget(string $serial, #[CurrentUser] User $user): JsonResponse
    {
        Faults::forget($this->bench->phone($serial));
        $this->log->note($user->getUserIdentifier(), 'hands', null, ['serial' => $serial, 'hands' => 'no plan']);

        return new JsonAnswer($this->view($serial));
    }

    /** Bytes of the fullest of a customer's phones: what travels from it, and then to the other one. */
    private function toCopy(string $owner): int
    {
        $most = 0;
        foreach ($this->bench->serials() as $serial) {
            $phone = $this->bench->phone($serial);
            if ($phone->state()['owner'] === $owner) {
                $most = max($most, $phone->used() - LocalBackupsOnPhone::lying($phone));
            }
        }

        return $most;
    }

    /** @return list<string> */
    private function planned(PhoneFolder $phone): array
    {
        return array_map(fn (array $fault): string => $this->words->say('desk.planned', [
            'what' => $this->words->say('fault.'.$fault['do']),
            'when' => isset($fault['percent']) ? 'copying' : 'minutes',
            'n' => $fault['percent'] ?? max(0, (int) ceil((($fault['at'] ?? 0) - time()) / 60)),
        ]), Faults::planned($phone));
    }

    /** @return array<string, mixed> */
    private function view(string $serial): array
    {
        $phone = $this->bench->phone($serial);
        $state = $phone->state();
        $question = Hands::question($state);
        $acts = [];
        foreach (Hands::offered($phone) as ['act' => $act, 'words' => $words, 'app' => $app]) {
            // A card is named by its number.
            $label = $this->words->say('hands.'.$words, ['app' => Shown::phoneNumber($app ?? '')]);
            $acts[] = ['act' => $act, 'label' => $label];
        }

        return [
            'serial' => $serial, 'owner' => $state['owner'], 'maker' => $state['maker'], 'model' => $state['model'],
            'platform' => $state['platform'], 'os_version' => $state['os_version'], 'plugged' => $state['plugged'],
            'unlocked' => $state['unlocked'], 'battery' => $state['battery'], 'debugging' => $state['debugging'],
            'admitted' => $state['admitted'], 'megabytes_per_second' => (float) $state['cable_mb_s'],
            'apps' => array_map(static fn (array $app): array => [
                'app' => $app['id'], 'name' => $app['name'], 'version' => $app['version'], 'number' => $app['number'],
            ], $state['apps']),
            'backup_keys' => array_values(array_filter(
                array_map(static fn (array $app): ?string => $app['backup_key'] ?? null, $state['apps']),
                static fn (?string $key): bool => null !== $key,
            )),
            'question' => null === $question ? null : $this->words->say('hands.'.$question),
            'acts' => $acts, 'planned' => $this->planned($phone),
            'codes' => array_map(fn (array $code): string => $this->words->say(
                $code['here'] ? 'desk.code' : 'desk.code_elsewhere', ['app' => $code['app'], 'code' => $code['code']],
            ), SigningUp::codes($phone, $this->clock->now()->getTimestamp())),
            'pins' => array_values(array_filter(
                array_map(static fn (array $app): ?string => $app['pin'] ?? null, $state['apps']),
                static fn (?string $pin): bool => null !== $pin,
            )),
        ];
    }
}
