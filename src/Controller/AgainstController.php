<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Customer\SameAccount;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\HeldAgainst;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\EarlierOne;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Runs\Asked;
use Geschenk\App\View\AgainstView;
use Geschenk\App\Work\Against\AgainstKind;
use Geschenk\App\Work\Against\AgainstWish;
use Geschenk\App\Work\Against\HeldResults;
use Geschenk\App\Work\KeepingDesk;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** A kept backup held against an earlier one of the same account: names of conversations and figures, and no text. */
#[Route('/api/backups/{backup}/against')]
final readonly class AgainstController
{
    public function __construct(
        private Trays $trays,
        private SameAccount $same,
        private KeepingDesk $desk,
        private HeldResults $results,
        private EntityManagerInterface $entities,
        private AgainstView $view,
    ) {
    }

    #[Route('', methods: ['GET'])]
    public function show(string $backup): JsonResponse
    {
        return new JsonAnswer($this->whole($this->trays->backup($backup)));
    }

    #[Route('', methods: ['POST'])]
    public function hold(
        string $backup,
        #[MapRequestPayload('json')] EarlierOne $asked,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $of = $this->trays->backup($backup);
        $this->desk->askOfBackup(
            $of->id, AgainstKind::name(), $user->getUserIdentifier(), new Asked(own: new AgainstWish($asked->earlier)),
        );

        return new JsonAnswer($this->whole($of), 202);
    }

    #[Route('/{earlier<[0-9a-f-]{36}>}', methods: ['GET'])]
    public function result(string $backup, string $earlier): JsonResponse
    {
        $of = $this->trays->backup($backup);
        $held = $this->held($of)[$earlier] ?? null;
        $result = null === $held ? null : $this->results->get($held->id);
        if (null === $held || null === $result) {
            throw new NotFoundHttpException('not_held_against');
        }

        return new JsonAnswer(['made_at' => Time::isoOrNull($held->madeAt())] + $result);
    }

    /** @return array<string, mixed> */
    private function whole(Backup $backup): array
    {
        $run = $backup->run();
        $isOpen = null !== $run && AgainstKind::name() === $run->kind && !$run->state()->isOver();

        return $this->view->of(
            $backup, $this->same->earlier($backup), $this->held($backup),
            $isOpen ? $this->entities->find(HeldAgainst::class, $run->id) : null, $isOpen ? $run : null,
        );
    }

    /** @return array<string, HeldAgainst> the newest that is done, by the earlier one's id */
    private function held(Backup $backup): array
    {
        $held = [];
        $all = $this->entities->getRepository(HeldAgainst::class)->findBy(['backup' => $backup], ['id' => 'ASC']);
        foreach ($all as $one) {
            null === $one->madeAt() ?: $held[$one->earlier->id] = $one;
        }

        return $held;
    }
}
