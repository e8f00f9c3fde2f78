<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\NewHabit;
use Geschenk\App\Http\Body\NewScope;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Shop;
use Geschenk\App\Tray\Choosing\Choosing;
use Geschenk\App\Tray\Choosing\ScopeAsked;
use Geschenk\App\View\ChoiceView;
use Geschenk\App\Work\RunDesk;
use Geschenk\Core\Conversion\Scope;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** What of a backup goes across. */
final readonly class ChoiceController
{
    private const MOVE = '/api/trays/{number<\d{1,9}>}/moves/{place<\d{1,3}>}';

    public function __construct(
        private Trays $trays,
        private Choosing $choosing,
        private ChoiceView $view,
        private TrayAnswer $answer,
        private RunDesk $runs,
        private Records $records,
    ) {
    }

    /** @throws Refusal where the chats are only backed up: nothing goes across */
    private function toChoose(int $number, int $place): Move
    {
        $move = $this->trays->move($number, $place);

        return $move->tray->onlyBacksUp() ? throw Refusal::because('only_backs_up') : $move;
    }

    #[Route(self::MOVE.'/scope', methods: ['GET'])]
    public function show(int $number, int $place): JsonResponse
    {
        $this->trays->backupOf($number, $place);

        return new JsonAnswer($this->view->of($this->toChoose($number, $place)));
    }

    /** What a choice would bring; nothing is kept. */
    #[Route(self::MOVE.'/scope/sum', methods: ['POST'])]
    public function sum(
        int $number,
        int $place,
        #[MapRequestPayload('json')] NewScope $asked,
    ): JsonResponse {
        $this->trays->backupOf($number, $place);
        $move = $this->toChoose($number, $place);
        if (null !== $move->tray->closedAt()) {
            throw Refusal::because('tray_closed');
        }

        return new JsonAnswer($this->view->sum($move, $this->scope($move, $asked)));
    }

    #[Route(self::MOVE.'/scope', methods: ['PUT'])]
    public function choose(
        MoveAt $at,
        #[MapRequestPayload('json')] NewScope $asked,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $move = $this->toChoose($at->tray, $at->place);
        if (null !== $move->tray->closedAt()) {
            throw Refusal::because('tray_closed');
        }
        $scope = $this->scope($move, $asked);
        $by = $user->getUserIdentifier();
        // One change: a conversion that is refused leaves the choice as it was.
        $this->records->change(function () use ($at, $scope, $asked, $by): void {
            $this->choosing->choose($at, $scope, $asked->merges, $by, $asked->names);
            if ($asked->convert) {
                $this->runs->convert($at, $by);
            }
        });

        return $this->answer->of($at->tray);
    }

    /** What the shop usually leaves out. */
    #[Route('/api/habit', methods: ['PUT'])]
    public function keepHabit(
        #[MapRequestPayload('json')] NewHabit $habit,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->choosing->keepHabit(
            self::texts($habit->groups), $habit->archived, $habit->empty, $habit->quietMonths,
            $user->getUserIdentifier(),
        );

        return new JsonAnswer($this->choosing->habit()?->toArray() ?? []);
    }

    private function scope(Move $move, NewScope $asked): Scope
    {
        $from = self::day($asked->from);
        $to = self::day($asked->to)?->modify('+1 day');

        return $this->choosing->scope($move, new ScopeAsked(
            self::texts($asked->groups), array_values(array_filter($asked->conversations, is_int(...))),
            null === $from ? null : $from->getTimestamp() * 1000, null === $to ? null : $to->getTimestamp() * 1000,
            $asked->trialConversation, $asked->trialNewest,
        ));
    }

    private static function day(?string $day): ?\DateTimeImmutable
    {
        return null === $day || '' === $day ? null : Shop::day($day) ?? throw Refusal::because('no_day');
    }

    /**
     * @param array<mixed> $list
     *
     * @return list<string>
     */
    private static function texts(array $list): array
    {
        return array_values(array_filter($list, is_string(...)));
    }
}
